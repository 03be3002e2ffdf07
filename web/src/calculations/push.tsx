import { box, calculation, pair, sides, sidesOf, sizeFields, text } from "./calculation";
import { Cut } from "./drawn";
import { known, numberLine, pairLine, plainLine, shareLine } from "./lines";

export const push = calculation({
  id: "push",
  name: "Push in",
  asks: "Push in 1.5×: what is left?",
  kind: "conversion",
  fields: [
    ...sizeFields("w", "h", "source", ["3840", "2160"], "/source/raster"),
    ...sizeFields("tw", "th", "frame", ["1920", "1080"], "/delivery/raster"),
    { key: "zoom", label: "push in", first: "1.5", unit: "×", at: ["/framing/zoom"] },
  ],
  request: (of) => ({
    source: { raster: pair(of, "w", "h") },
    delivery: { raster: pair(of, "tw", "th") },
    framing: { method: "fill", zoom: text(of, "zoom") },
  }),
  lines: ({ window, scale, reserve, kept }) =>
    known([
      window && { ...pairLine("of the source, native pixels", [window.width, window.height]), main: true },
      { ...numberLine("frame pixels for each of them", scale.x), main: true },
      shareLine("kept of the source", kept),
      reserve.x.value >= 1
        ? numberLine("push in further before a pixel is enlarged", reserve.x, "×")
        : plainLine("push in further before a pixel is enlarged", "no: they are already"),
    ]),
  drawing: ({ entries, result: { window }, into }) => (
    <Cut
      container={box(entries)}
      frame={[window?.width.value ?? 1, window?.height.value ?? 1]}
      aspect={1}
      into={into}
    />
  ),
  part: (of) => ({
    as: "framing",
    says: `Fill, push in ${text(of, "zoom")}×`,
    set: { method: "fill", zoom: text(of, "zoom") },
    source: sides(of),
    frame: sides(of, "tw", "th"),
  }),
  // One plain frame filled by another; what has more to it is answered in a sentence.
  entriesFor: ({ source, delivery, framing }) => {
    const { raster, pixel_aspect, squeeze, rotation, active } = (source ?? {}) as Record<string, unknown>;
    const { raster: to, pixel_aspect: shape, picture_ratio } = (delivery ?? {}) as Record<string, unknown>;
    const { method, zoom } = (framing ?? {}) as Record<string, unknown>;
    const plain = [pixel_aspect, squeeze, shape].every((value) => (value ?? "1") === "1");
    const whole = Object.values(active ?? {}).every((inset) => inset === 0);
    if (!plain || !whole || rotation || picture_ratio || method !== "fill") return undefined;
    return { ...sidesOf(raster), ...sidesOf(to, "tw", "th"), zoom: zoom ?? "1" };
  },
  reason:
    "The window is the part of the source that fills the frame. At 1, each of its pixels is one pixel of the frame; above 1 they are enlarged.",
});
