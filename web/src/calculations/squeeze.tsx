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

export const squeeze = calculation({
  id: "squeeze",
  name: "Squeeze",
  asks: "1.8x on a 16:9 sensor: what do I get?",
  kind: "desqueeze",
  fields: [
    ...sizeFields("w", "h", "stored", ["3840", "2160"], "/raster"),
    { key: "squeeze", label: "lens squeeze", first: "1.8", unit: "×", at: ["/squeeze"] },
    {
      key: "target",
      label: "target ratio",
      first: "2.39",
      unit: ": 1",
      at: ["/target_ratio"],
      empty: "none",
    },
    ...roundingFields("down"),
  ],
  request: (of) => ({
    raster: pair(of, "w", "h"),
    squeeze: text(of, "squeeze"),
    target_ratio: optional(of, "target"),
    ...rounding(of),
  }),
  lines: (result) => squaredLines(result, "target"),
  drawing: ({ entries, result, room }) => (
    <SquaredDrawing stored={box(entries)} result={result} room={room} />
  ),
  part: (of) =>
    asSource(of, `${sides(of).join("x")} at ${text(of, "squeeze")}x`, { squeeze: text(of, "squeeze") }),
  entriesFor: ({ raster, pixel_aspect, squeeze, target_ratio }) =>
    (pixel_aspect ?? "1") === "1" ? { ...sidesOf(raster), squeeze, target: target_ratio ?? "" } : undefined,
});
