import type { ReactNode } from "react";
import type { Conversion, Resampling, Source } from "../../api/client";
import type { ProvedKey } from "../../api/queries";
import type { Box } from "../../drawing/box";

/** What is proved: a conversion, or a source by itself. */
export interface Proved {
  source: Source;
  /** What it is called in the window's title. */
  name: string;
  /** The screen above. */
  up: { to: string; name: string };
  key: ProvedKey;
  /** Another one as soon as anything is planned otherwise. */
  planned: string;
  /** The raster of the outcome. */
  raster: number[];
  /** The part of it that takes picture. */
  area: Box;
  /** Where the whole picture lies in it. */
  image: Box;
  scale: Conversion["plan"]["scale"];
  /** The way that is taken, if somebody has decided. */
  taken: Resampling | null | undefined;
  /** Takes a way. */
  take: (how: Resampling) => void;
  /** What taking means, and what the button says. */
  taking: { button: string; tip: string };
  /** Whether it can be framed otherwise. */
  framed: boolean;
  /** What else can be chosen in the head of the screen. */
  tools?: ReactNode;
  /** To the next one, or to the one before. */
  step: (by: number) => void;
  /** The commands for that. */
  steps: ["previousFrame", "nextFrame"] | ["previousSource", "nextSource"];
}

/** A rectangle of an answer. */
export function boxOf({ x, y, width, height }: Conversion["plan"]["image"]): Box {
  return { x: x.value, y: y.value, width: width.value, height: height.value };
}
