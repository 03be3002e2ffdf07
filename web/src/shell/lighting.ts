import { useEffect, useState } from "react";
import { here, keep, kept } from "../kept";

/** Light, or dark for a grading room; without a choice the system decides. */
export type Lighting = "system" | "light" | "dark";

const KEY = "ratiomet.theme";
const ORDER: Lighting[] = ["system", "light", "dark"];

const isLighting = (value: unknown): value is Lighting => ORDER.includes(value as Lighting);

export function useLighting() {
  const [lighting, setLighting] = useState(() => kept(here, KEY, "system", isLighting));
  useEffect(() => {
    const dark = matchMedia("(prefers-color-scheme: dark)");
    let paper = false;
    const apply = () => {
      const night = !paper && (lighting === "dark" || (lighting === "system" && dark.matches));
      const root = document.documentElement;
      root.dataset.bsTheme = night ? "dark" : "light";
      root.style.colorScheme = night ? "dark" : "light";
    };
    // Paper is white.
    const print = ({ type }: Event) => {
      paper = type === "beforeprint";
      apply();
    };
    apply();
    dark.addEventListener("change", apply);
    window.addEventListener("beforeprint", print);
    window.addEventListener("afterprint", print);
    return () => {
      dark.removeEventListener("change", apply);
      window.removeEventListener("beforeprint", print);
      window.removeEventListener("afterprint", print);
    };
  }, [lighting]);
  const turn = () => {
    const next = ORDER[(ORDER.indexOf(lighting) + 1) % ORDER.length] ?? "system";
    keep(here, KEY, next);
    setLighting(next);
  };
  return { lighting, turn };
}
