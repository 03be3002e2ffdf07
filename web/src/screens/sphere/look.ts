import type { Orientation, Source } from "../../api/client";

/** Longitude and latitude. */
export type Point = [number, number];
export type Line = [Point, Point];
/** Pixels across and down. */
export type Size = [number, number];
/** Which way a hand may turn the sphere. */
export type Hold = "free" | "around" | "roll";

export const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/** Points as requests have them. */
export const pointTexts = (points: readonly Point[]) =>
  points.map((each) => each.map((part) => part.toFixed(4)));

/** Where a view looks, how wide it is, and its size. */
export interface Look {
  look: Orientation;
  fov: string;
  raster: [number, number];
}

export const FIRST_LOOK: Look = {
  look: { yaw: "0", pitch: "0", roll: "0" },
  fov: "90",
  raster: [1920, 1080],
};

export const NOT_TURNED: Orientation = { yaw: "0", pitch: "0", roll: "0" };

/** The look of a source that is a view. */
export function lookOf({ values }: Source): Look {
  const [width = 1920, height = 1080] = values.geometry.raster;
  const view = values.view;
  if (!view) return { ...FIRST_LOOK, raster: [width, height] };
  return { look: view.orientation, fov: String(view.fov), raster: [width, height] };
}

const tidy = (degrees: number) => String(Math.round(degrees * 1000) / 1000);

/** Moved by so many degrees to the right and up. */
export function turnedBy({ yaw, pitch, roll }: Orientation, right: number, up: number): Orientation {
  const around = ((((Number(yaw) + right + 180) % 360) + 360) % 360) - 180;
  return { yaw: tidy(around), pitch: tidy(Math.min(Math.max(Number(pitch) + up, -90), 90)), roll };
}

/** A wider view, or a narrower one. */
export const widened = (fov: string, times: number) => tidy(Math.min(Math.max(Number(fov) * times, 1), 170));

export const angle = (value: string | number, places = 1) => {
  const number = Number(value);
  return `${number < 0 ? "−" : ""}${Math.abs(number).toFixed(places)}°`;
};
