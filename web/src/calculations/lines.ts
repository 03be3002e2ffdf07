import type { Exact } from "../api/client";
import { percent, raster, short, typed } from "../drawing/numbers";

/** One line of an answer. */
export interface Line {
  name: string;
  shown: string;
  copies: string;
  exact?: string | undefined;
  /** The answer to the question itself. */
  main?: boolean | undefined;
}

export const plainLine = (name: string, shown: string, main = false): Line => ({
  name,
  shown,
  copies: shown,
  main,
});

export function numberLine(name: string, value: Exact, unit = "", places = 4): Line {
  return {
    name,
    shown: `${short(value.value, places)}${unit && ` ${unit}`}`,
    copies: typed(value.value, places),
    exact: hidden(value.exact),
  };
}

export const shareLine = (name: string, value: Exact): Line => ({
  name,
  shown: `${percent(value.value)} %`,
  copies: typed(value.value * 100, 2),
  exact: hidden(value.exact),
});

export const frameLine = (name: string, sides: readonly number[], main = false): Line => ({
  name,
  shown: raster(sides),
  copies: sides.join("x"),
  main,
});

export const errorLine = (name: string, value: Exact): Line => ({
  name,
  shown: value.value === 0 ? "none" : `${value.value > 0 ? "+" : ""}${short(value.value * 100, 4)} %`,
  copies: typed(value.value * 100, 6),
  exact: hidden(value.exact),
});

export const pairLine = (name: string, [one, other]: readonly Exact[], places = 3): Line => ({
  name,
  shown: [one, other].map((each) => short(each?.value ?? 0, places)).join("×"),
  copies: [one, other].map((each) => typed(each?.value ?? 0, places)).join("x"),
  exact: hidden([one, other].map((each) => each?.exact).join(" × ")),
});

/** A fraction, where the decimal number hides one. */
const hidden = (exact: string) => (exact.includes("/") ? exact : undefined);

export const known = (lines: (Line | false | null | undefined)[]): Line[] => lines.filter((line) => !!line);
