import {
  asSource,
  box,
  calculation,
  optional,
  pair,
  rounding,
  roundingFields,
  sides,
  sidesOf,
  sizeFields,
  text,
} from "./calculation";
import { SquaredDrawing, squaredLines } from "./squared";

export const pixels = calculation({
  id: "pixels",
  name: "Pixel shape",
  asks: "720 columns on square pixels?",
  kind: "desqueeze",
  fields: [
    ...sizeFields("w", "h", "stored", ["720", "576"], "/raster"),
    { key: "aspect", label: "pixel aspect", first: "12:11", unit: "w : h", at: ["/pixel_aspect"] },
    {
      key: "target",
      label: "meant to show",
      first: "4:3",
      unit: ": 1",
      at: ["/target_ratio"],
      empty: "whole picture",
    },
    ...roundingFields("nearest"),
  ],
  request: (of) => ({
    raster: pair(of, "w", "h"),
    pixel_aspect: text(of, "aspect"),
    target_ratio: optional(of, "target"),
    ...rounding(of),
  }),
  lines: (result) => squaredLines(result, "part that was meant"),
  drawing: ({ entries, result, room }) => (
    <SquaredDrawing stored={box(entries)} result={result} room={room} />
  ),
  part: (of) =>
    asSource(of, `${sides(of).join("x")} with ${text(of, "aspect")} pixels`, {
      pixelAspect: text(of, "aspect"),
    }),
  reason:
    "Of the 720 columns of ITU-R BT.601 only about 702 (625 lines) or 711 (525 lines) lay in the analogue picture; with the pixel shapes of ITU-T H.264, Table E-1, 704 columns are exactly 4:3 or 16:9. All 720 columns therefore show slightly more than that.",
  entriesFor: ({ raster, pixel_aspect }) =>
    (pixel_aspect ?? "1") === "1" ? undefined : { ...sidesOf(raster), aspect: pixel_aspect },
});
