import { asFrame, box, calculation, pair, sides, sidesOf, sizeFields, text } from "./calculation";
import { One } from "./drawn";
import { plainLine } from "./lines";

export const decoder = calculation({
  id: "decoder",
  name: "Decoder level",
  asks: "Which level does a decoder need?",
  kind: "levels",
  fields: [
    ...sizeFields("w", "h", "frame", ["3840", "1920"], "/frame"),
    { key: "rate", label: "frame rate", first: "30", unit: "fps", at: ["/rate"] },
  ],
  request: (of) => ({ frame: pair(of, "w", "h"), rate: text(of, "rate") }),
  lines: ({ h264, h265 }) => [
    plainLine("ITU-T H.264", h264 ? `level ${h264}` : "no level allows it", true),
    plainLine("ITU-T H.265", h265 ? `level ${h265}` : "no level allows it", true),
  ],
  drawing: ({ entries, into }) => <One box={box(entries)} into={into} />,
  part: (of) => asFrame(pair(of, "w", "h"), sides(of).join("x"), { rate: text(of, "rate") }),
  reason: "ITU-T H.264, Table A-1, and ITU-T H.265, Tables A.8 and A.9; progressive, from memory.",
  entriesFor: ({ frame, rate }) => ({ ...sidesOf(frame), rate }),
});
