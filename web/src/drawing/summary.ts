import type { ActivePictureValues, Crossing } from "../api/client";
import { raster, short } from "./numbers";

/** How many conversions are clean, need a look, must stop. */
export function tally(crossings: readonly Crossing[]) {
  let caution = 0;
  let stop = 0;
  for (const { severity } of crossings) {
    if (severity === "caution") caution += 1;
    if (severity === "stop") stop += 1;
  }
  return { clean: crossings.length - caution - stop, caution, stop };
}

/** Three digits are enough for a glance. */
function brief(value: number): string {
  return short(value, value >= 100 ? 0 : value >= 10 ? 1 : 2);
}

/** The size of a picture in percent; both axes where they differ. */
export function sizeText([x = 0, y = 0]: readonly number[]): string {
  return x === y ? `${brief(y)}%` : `${brief(x)}×${brief(y)}%`;
}

/** The bars of a crossing in a few characters; the drawing shows at which sides. */
export function barsText([left = 0, top = 0, right = 0, bottom = 0]: readonly number[]): string | undefined {
  const pair = (a: number, b: number) =>
    a > 0 || b > 0 ? (a === b ? brief(a) : `${brief(a)}+${brief(b)}`) : undefined;
  const parts = [pair(left, right), pair(top, bottom)].filter(Boolean);
  return parts.length > 0 ? `bars ${parts.join(", ")}` : undefined;
}

/**
 * How far a picture lies from where it was imported, in pixels, such as "12 right, 3 up, 102 %"; nothing where it
 * lies there, or was not imported. Where there is little room, with arrows.
 */
export function apartText(imported: Crossing["imported"], arrows = false): string | undefined {
  const [right, down] = imported?.moved ?? [];
  if (!imported || right === undefined || down === undefined) return undefined;
  const side = (by: number, ahead: string, back: string) =>
    Math.abs(by) >= 0.05 && `${brief(Math.abs(by))}${arrows ? "" : " "}${by > 0 ? ahead : back}`;
  const size = Math.abs(imported.size - 1) >= 0.0005 && `${short(imported.size * 100, 1)} %`;
  return (
    [
      arrows ? side(right, "→", "←") : side(right, "right", "left"),
      arrows ? side(down, "↓", "↑") : side(down, "down", "up"),
      size,
    ]
      .filter(Boolean)
      .join(arrows ? " " : ", ") || undefined
  );
}

/** An active picture in a line. */
export function pictureText(values: ActivePictureValues): string {
  if (values.guide) return `${values.name} (${values.guide} guide)`;
  const { left = 0, top = 0, right = 0, bottom = 0 } = values.insets ?? {};
  const keeps = values.keep_ratio ? ", keeps the ratio" : "";
  return `${values.name} (${raster(values.raster ?? [])}, ${left}/${top}/${right}/${bottom}${keeps})`;
}
