import type { Box } from "../../drawing/box";
import { overlap } from "../../drawing/box";

/** Something that shows the frame, or a part of it: pixels, and where in the frame they lie. */
export interface Layer {
  bitmap: ImageBitmap;
  /** Where all of it lies, in delivery pixels. */
  at: Box;
  /** What is seen of it, in delivery pixels; all else is black. */
  seen: Box;
}

/** Draws a part of the frame over a canvas of some size: pixels as pixels where there is room for them. */
export function paint(context: CanvasRenderingContext2D, layer: Layer, part: Box, onto: Box) {
  const { bitmap, at } = layer;
  context.fillStyle = "#000";
  context.fillRect(onto.x, onto.y, onto.width, onto.height);
  const seen = overlap(layer.seen, part);
  if (!seen) return;
  const across = bitmap.width / at.width;
  const down = bitmap.height / at.height;
  const scale = { x: onto.width / part.width, y: onto.height / part.height };
  context.imageSmoothingEnabled = scale.x < across && scale.y < down;
  context.imageSmoothingQuality = "high";
  context.drawImage(
    bitmap,
    (seen.x - at.x) * across,
    (seen.y - at.y) * down,
    seen.width * across,
    seen.height * down,
    onto.x + (seen.x - part.x) * scale.x,
    onto.y + (seen.y - part.y) * scale.y,
    seen.width * scale.x,
    seen.height * scale.y,
  );
}

/** Draws how much two layers differ, four times as strong. */
export function paintDifference(
  context: CanvasRenderingContext2D,
  [one, other]: [Layer, Layer],
  part: Box,
  onto: Box,
) {
  paint(context, one, part, onto);
  context.globalCompositeOperation = "difference";
  const sheet = new OffscreenCanvas(
    Math.max(1, Math.round(onto.width)),
    Math.max(1, Math.round(onto.height)),
  );
  const beside = sheet.getContext("2d");
  if (beside) {
    paint(beside as unknown as CanvasRenderingContext2D, other, part, { ...onto, x: 0, y: 0 });
    context.drawImage(sheet, onto.x, onto.y, onto.width, onto.height);
  }
  // Doubled twice.
  context.globalCompositeOperation = "lighter";
  for (const _ of [1, 2]) context.drawImage(context.canvas, 0, 0);
  context.globalCompositeOperation = "source-over";
}
