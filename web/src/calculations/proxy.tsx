import { type Box, placed, placeIn } from "../drawing/box";
import { short } from "../drawing/numbers";
import { asFrame, box, calculation, pair, STEPS, sidesOf, sizeFields, wholeOf } from "./calculation";
import { Measured } from "./drawn";
import { frameLine, known } from "./lines";

/** The copies inside the raster, in its upper left corner. */
function Copies({ of, copies, into }: { of: Box; copies: readonly (readonly number[])[]; into: Box }) {
  const place = placeIn(of, into);
  const whole = placed(of, place);
  return (
    <>
      <rect className="d-picture" {...whole} />
      <rect className="d-edge" {...whole} />
      {copies.map(([width = 1, height = 1]) => {
        const copy = placed({ ...of, width, height }, place);
        return <rect key={width} className="d-window" {...copy} />;
      })}
      <Measured box={whole} width={String(of.width)} height={String(of.height)} />
    </>
  );
}

export const proxy = calculation({
  id: "proxy",
  name: "Proxies",
  asks: "4608×3164 smaller, in its own shape?",
  kind: "proxy",
  fields: [
    ...sizeFields("w", "h", "source", ["4608", "3164"], "/raster"),
    { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
  ],
  request: (of) => ({ raster: pair(of, "w", "h"), step: wholeOf(of, "step") }),
  lines: ({ sizes, largest_true }) =>
    known([
      ...sizes.map(({ n, frame, distortion: { value }, true: isTrue }) =>
        frameLine(isTrue ? `1/${n}` : `1/${n}, shape off by ${short(value * 100, 3)} %`, frame, n === 2),
      ),
      largest_true && frameLine("largest of exactly its shape, at most half", largest_true),
    ]),
  drawing: ({ entries, result: { sizes }, into }) => (
    <Copies of={box(entries)} copies={sizes.map(({ frame }) => frame)} into={into} />
  ),
  part: (_, { sizes: [half] }) => asFrame(half?.frame ?? [2, 2], "Proxy 1/2"),
  reason:
    "A copy whose sides were rounded shows a slightly different shape: a framing made on it lands off its place in the original.",
  entriesFor: ({ raster, step }) => ({ ...sidesOf(raster), step }),
});
