import type { Box } from "./box";

/** Degrees across and up that an unrolled sphere shows. */
export type Degrees = readonly [number, number];

const FULL: Degrees = [360, 180];

/** Where a point of the sphere, longitude and latitude, stands on its unrolled drawing. */
export function onUnrolled(
  [longitude = 0, latitude = 0]: readonly number[],
  { x, y, width, height }: Box,
  [across, up]: Degrees = FULL,
): readonly [number, number] {
  return [x + (longitude / across + 0.5) * width, y + (0.5 - latitude / up) * height];
}

/** The point of the sphere at a place of its unrolled drawing, held within it. */
export function ofUnrolled(
  [left, top]: readonly [number, number],
  { x, y, width, height }: Box,
  [across, up]: Degrees = FULL,
): [number, number] {
  const held = (part: number) => Math.min(Math.max(part, 0), 1);
  return [(held((left - x) / width) - 0.5) * across, (0.5 - held((top - y) / height)) * up];
}

/** A line through points of the sphere. It goes on past the seam: draw it once more a turn to either side. */
export function unrolled(points: readonly (readonly number[])[], box: Box, span: Degrees = FULL): string {
  let turn = 0;
  return points
    .map(([longitude = 0, latitude = 0], place, all) => {
      const before = all[place - 1]?.[0];
      if (before !== undefined && longitude - before > 180) turn -= 360;
      if (before !== undefined && longitude - before < -180) turn += 360;
      const [x, y] = onUnrolled([longitude + turn, latitude], box, span);
      return `${place === 0 ? "M" : "L"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
}

/** Meridians and parallels each 30 degrees of a whole sphere. */
export function net({ x, y, width, height }: Box): string {
  const lines = [];
  for (let at = 1; at < 12; at += 1) lines.push(`M${x + (width * at) / 12} ${y}v${height}`);
  for (let at = 1; at < 6; at += 1) lines.push(`M${x} ${y + (height * at) / 6}h${width}`);
  return lines.join("");
}
