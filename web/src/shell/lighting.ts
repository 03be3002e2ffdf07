import { useEffect, useState } from "react";

/** Paper by day, dark in a grading room; without a choice the system decides. */
export type Lighting = "system" | "day" | "night";

const KEY = "ratiomet-lighting";
const ORDER: Lighting[] = ["system", "day", "night"];

function kept(): Lighting {
  const value = localStorage.getItem(KEY);
  return value === "day" || value === "night" ? value : "system";
}

export function useLighting() {
  const [lighting, setLighting] = useState(kept);
  useEffect(() => {
    const dark = matchMedia("(prefers-color-scheme: dark)");
    const apply = () => {
      const night = lighting === "night" || (lighting === "system" && dark.matches);
      document.documentElement.dataset.bsTheme = night ? "dark" : "light";
    };
    apply();
    dark.addEventListener("change", apply);
    return () => dark.removeEventListener("change", apply);
  }, [lighting]);
  const turn = () => {
    const next = ORDER[(ORDER.indexOf(lighting) + 1) % ORDER.length] ?? "system";
    localStorage.setItem(KEY, next);
    setLighting(next);
  };
  return { lighting, turn };
}
