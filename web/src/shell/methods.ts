import type { Crossing, Method } from "../api/client";

/** The methods in the order in which they are offered, each with its key and what it does. */
export const METHODS: { id: Method; name: string; key: string; does: string }[] = [
  { id: "fit", name: "Fit", key: "t", does: "all of the picture is seen" },
  { id: "fill", name: "Fill", key: "l", does: "all of the picture area is covered" },
  { id: "width", name: "Width", key: "w", does: "as wide as the picture area" },
  { id: "height", name: "Height", key: "h", does: "as high as the picture area" },
  { id: "native", name: "1:1", key: "n", does: "one stored line on one delivery line" },
  { id: "stretch", name: "Stretch", key: "x", does: "each axis by itself; circles do not stay round" },
  {
    id: "subject",
    name: "Around",
    key: "a",
    does: "the area is covered, slid so that the subject is whole; without a subject it is only filled",
  },
];

/** The key that drops what is set here, so that the next level speaks again. */
export const FOLLOW_KEY = "r";

/** Whose method a conversion has: the nearest that has one speaks. */
export const SPEAKERS: Record<Crossing["speaker"], string> = {
  own: "this conversion",
  source: "its source",
  frame: "its frame",
  board: "the board",
};

export function methodName(method: Method): string {
  return METHODS.find((each) => each.id === method)?.name ?? method;
}
