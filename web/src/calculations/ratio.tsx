import { asNumber } from "../drawing/numbers";
import {
  asFrame,
  box,
  calculation,
  pair,
  rounding,
  roundingFields,
  sides,
  sidesOf,
  sizeFields,
  text,
} from "./calculation";
import { Cut } from "./drawn";
import { errorLine, frameLine, known, numberLine, pairLine, plainLine, shareLine } from "./lines";

/** A published frame comes first; what rounding gives is named beside it where it is another. */
const differs = (one: readonly number[], other: readonly number[]) => one.join() !== other.join();

export const ratio = calculation({
  id: "ratio",
  name: "Ratio and frame",
  asks: "2.39 out of UHD: how high?",
  kind: "extraction",
  fields: [
    ...sizeFields("w", "h", "container", ["3840", "2160"], "/container"),
    { key: "ratio", label: "ratio", first: "2.39", unit: ": 1", at: ["/ratio"] },
    {
      key: "keep",
      label: "keep",
      first: "inside",
      at: ["/keep"],
      options: [
        ["inside", "inside both"],
        ["width", "the width"],
        ["height", "the height"],
      ],
    },
    ...roundingFields("down"),
    { key: "aspect", label: "pixel aspect", first: "1", unit: "w : h", at: ["/pixel_aspect"] },
  ],
  request: (of) => ({
    container: pair(of, "w", "h"),
    pixel_aspect: text(of, "aspect"),
    ratio: text(of, "ratio"),
    keep: of.keep,
    ...rounding(of),
  }),
  lines: ({ proposed, frame: rounded, exact, ratio, deviation, kept, lost }) => {
    const other = proposed && differs(proposed.frame, rounded);
    const of = other ? "rounded: " : "";
    return known([
      frameLine("frame", proposed?.frame ?? rounded, true),
      proposed && plainLine("published as", proposed.name),
      numberLine("shows", proposed?.ratio ?? ratio, ": 1"),
      pairLine("before rounding", exact),
      other && frameLine("rounded", rounded),
      other && numberLine("rounded: shows", ratio, ": 1"),
      errorLine(`${of}error of the ratio`, deviation),
      kept && shareLine(`${of}kept of the container`, kept),
      lost &&
        plainLine(
          `${of}cut off left, top, right, bottom`,
          [lost.left, lost.top, lost.right, lost.bottom].join(", "),
        ),
    ]);
  },
  drawing: ({ entries, result, into }) => (
    <Cut
      container={box(entries)}
      frame={result.proposed?.frame ?? result.frame}
      aspect={asNumber(entries.aspect) || 1}
      into={into}
    />
  ),
  part: (of, { proposed, frame }) =>
    asFrame(proposed?.frame ?? frame, `${text(of, "ratio")} out of ${sides(of).join("x")}`, {
      pixelAspect: text(of, "aspect"),
      step: text(of, "step"),
    }),
  reason:
    "Sides are even because a 4:2:0 picture stores colour once for two columns and two lines (ITU-T H.264, clause 6.2, from memory).",
  entriesFor: ({ container, ratio, keep }) => ({ ...sidesOf(container), ratio, keep }),
});
