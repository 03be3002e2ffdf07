import type { Crossing, Method } from "../api/client";

/** What each method is called, its key, and what it does. */
export const METHODS: Record<Method, { name: string; key: string; does: string }> = {
  fit: { name: "Fit", key: "t", does: "shows the whole picture" },
  fill: { name: "Fill", key: "l", does: "covers the whole picture area" },
  width: { name: "Width", key: "w", does: "as wide as the picture area" },
  height: { name: "Height", key: "h", does: "as high as the picture area" },
  native: { name: "1:1", key: "n", does: "one stored line to one delivery line" },
  stretch: { name: "Stretch", key: "x", does: "scales each axis by itself; circles do not stay round" },
  subject: {
    name: "Around subject",
    key: "a",
    does: "covers the area and keeps the subject whole; the same as Fill without a subject",
  },
};

/** In the order in which they are offered. */
export const METHOD_LIST = (Object.keys(METHODS) as Method[]).map((id) => ({ id, ...METHODS[id] }));

/** Whose method a conversion has: the nearest that has one speaks. */
export const SPEAKERS: Record<Crossing["speaker"], string> = {
  own: "this conversion",
  source: "its source",
  frame: "its frame",
  board: "the board",
};

export function methodName(method: Method): string {
  return METHODS[method].name;
}
