import { type Box, placed, placeIn } from "../drawing/box";
import { net } from "../drawing/unrolled";
import { asFrame, calculation, optional, STEPS, text, wholeOf } from "./calculation";
import { Measured } from "./drawn";
import { frameLine, known, pairLine, plainLine } from "./lines";

/** The net of longitudes and latitudes in each eye. */
function Eyes({ frame, eye, into }: { frame: readonly number[]; eye: readonly number[]; into: Box }) {
  const [width = 1, height = 1] = frame;
  const [eyeWidth = 1, eyeHeight = 1] = eye;
  const place = placeIn({ x: 0, y: 0, width, height }, into);
  const whole = placed({ x: 0, y: 0, width, height }, place);
  const eyes: Box[] = [];
  for (let x = 0; x < width; x += eyeWidth)
    for (let y = 0; y < height; y += eyeHeight)
      eyes.push(placed({ x, y, width: eyeWidth, height: eyeHeight }, place));
  return (
    <>
      <rect className="d-picture" {...whole} />
      {eyes.map((eye) => (
        <g key={`${eye.x}-${eye.y}`}>
          <path className="d-third" d={net(eye)} />
          <rect className="d-edge" {...eye} />
        </g>
      ))}
      <Measured box={whole} width={String(width)} height={String(height)} />
    </>
  );
}

export const sphere = calculation({
  id: "sphere",
  name: "Sphere",
  asks: "5760 wide: how high, how fine?",
  kind: "sphere_frame",
  fields: [
    { key: "w", label: "width of one eye", first: "5760", unit: "px", at: ["/width", ""] },
    { key: "across", label: "degrees across", first: "360", unit: "°", at: ["/span/0", "/span"] },
    { key: "up", label: "degrees up", first: "180", unit: "°", at: ["/span/1"] },
    {
      key: "layout",
      label: "eyes",
      first: "mono",
      at: ["/layout"],
      options: [
        ["mono", "mono"],
        ["top_bottom", "top and bottom"],
        ["side_by_side", "side by side"],
      ],
    },
    { key: "rate", label: "frame rate", first: "30", unit: "fps", at: ["/rate"], empty: "open" },
    { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
  ],
  request: (of) => ({
    width: wholeOf(of, "w"),
    span: [text(of, "across"), text(of, "up")],
    layout: of.layout,
    step: wholeOf(of, "step"),
    rate: optional(of, "rate"),
  }),
  lines: ({ eye, frame, pixels_per_degree, levels }) =>
    known([
      frameLine("frame", frame, true),
      frameLine("one eye", eye),
      pairLine("pixels for each degree", [pixels_per_degree.x, pixels_per_degree.y]),
      levels && plainLine("H.264 level", levels.h264 ?? "none allows it"),
      levels && plainLine("H.265 level", levels.h265 ?? "none allows it"),
    ]),
  drawing: ({ result, into }) => <Eyes frame={result.frame} eye={result.eye} into={into} />,
  part: (of, { frame }) =>
    asFrame(frame, `Sphere ${frame.join("x")}`, { rate: text(of, "rate"), step: text(of, "step") }),
  entriesFor: ({ width, span, layout, rate }) => {
    const [across, up] = Array.isArray(span) ? span : [];
    return width === undefined ? undefined : { w: width, across, up, layout, rate: rate ?? "" };
  },
});
