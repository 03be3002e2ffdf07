import { whole } from "./Field";

/** Width and height as they are typed. */
export interface Sides {
  width: string;
  height: string;
}

/** A size in one field, as it is said: "1920x1080". */
const BOTH = /^\s*(\d{1,6})\s*[x×*]\s*(\d{1,6})\s*$/i;

/** The sides that are meant: either field takes both. */
export function sidesIn({ width, height }: Sides): Sides {
  const [, across, down] = BOTH.exec(width) ?? BOTH.exec(height) ?? [];
  return across && down ? { width: across, height: down } : { width, height };
}

/** The raster of the fields; what is no number stays text, so that the server can say what is right. */
export function rasterOf(sides: Sides): [number, number] {
  const { width, height } = sidesIn(sides);
  return [whole(width), whole(height)];
}
