import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { HouseProfile, TypingProfile } from "../api/client";
import { libraryQuery } from "../api/queries";
import { here, keep, kept } from "../kept";

/** What most programs ask for: fitted is 100 %, the squeeze set on the clip, places from the middle. */
export const USUAL: TypingProfile = {
  hundred: "fitted",
  squeeze: "on_clip",
  borders: "after",
  turned: "first",
  zero: "centre",
  unit: "pixels",
  upwards: "down",
  turn_sign: "clockwise",
  zoom_unit: "percent",
  zoom_decimals: 2,
  place_decimals: 1,
};

const CHOSEN = "ratiomet.profile";
const isId = (value: unknown): value is number => Number.isInteger(value);

/** The typing profiles of the house, and the one that is used in this browser. */
export function useProfiles() {
  const { data: library } = useQuery(libraryQuery);
  const [chosen, setChosen] = useState(() => kept(here, CHOSEN, 0, isId));
  const profiles: HouseProfile[] = library?.profiles ?? [];
  const used = profiles.find(({ id }) => id === chosen);
  const choose = (id: number) => {
    keep(here, CHOSEN, id);
    setChosen(id);
  };
  return { profiles, used, profile: used?.values.profile ?? USUAL, choose };
}

const HUNDRED = { native: "native size", fitted: "fitted", filled: "filled" };
const ZERO = {
  centre: "from the middle",
  corner_to_centre: "middle from a corner",
  corner: "corner from a corner",
};

/** A profile in a line. */
export function profileText(profile: TypingProfile): string {
  return [
    `100 % is ${HUNDRED[profile.hundred]}`,
    profile.squeeze === "apart" && "width and height apart",
    profile.borders === "before" && "cut first",
    profile.turned === "last" && "turned last",
    ZERO[profile.zero],
    profile.unit === "parts" && "in parts of the frame",
    profile.upwards === "up" && "upwards",
  ]
    .filter(Boolean)
    .join(", ");
}
