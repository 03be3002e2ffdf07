import { type Box, placed, placeIn, union } from "../drawing/box";
import { asFrame, box, calculation, pair, sides, sidesOf, sizeFields } from "./calculation";
import { Measured } from "./drawn";
import { known, numberLine, plainLine, shareLine } from "./lines";

/** Two frames at one scale, one in the other's middle. */
function Two({ one, other, into }: { one: Box; other: Box; into: Box }) {
  const inner = { ...one, x: (other.width - one.width) / 2, y: (other.height - one.height) / 2 };
  const place = placeIn(union(inner, other), into);
  const [from, to] = [placed(inner, place), placed(other, place)];
  return (
    <>
      <rect className="d-edge" {...to} />
      <rect className="d-picture" {...from} />
      <rect className="d-window" {...from} />
      <path
        className="d-third"
        d={`M${from.x} ${from.y}L${to.x} ${to.y}M${from.x + from.width} ${from.y}L${to.x + to.width} ${to.y}M${from.x} ${from.y + from.height}L${to.x} ${to.y + to.height}M${from.x + from.width} ${from.y + from.height}L${to.x + to.width} ${to.y + to.height}`}
      />
      <Measured box={to} width={String(other.width)} height={String(other.height)} />
      <text x={from.x + from.width / 2} y={from.y + from.height / 2} textAnchor="middle" fontSize="12">
        {one.width}×{one.height}
      </text>
    </>
  );
}

export const scale = calculation({
  id: "scale",
  name: "Scale",
  asks: "HD to UHD: what factor?",
  kind: "scale",
  fields: [
    ...sizeFields("w", "h", "from", ["1920", "1080"], "/from"),
    ...sizeFields("tw", "th", "to", ["3840", "2160"], "/to"),
  ],
  request: (of) => ({ from: pair(of, "w", "h"), to: pair(of, "tw", "th") }),
  lines: ({ x, y, area, uniform, direction, whole }) =>
    known([
      { ...numberLine(uniform ? "factor" : "factor across", x, "×"), main: true },
      !uniform && { ...numberLine("factor up and down", y, "×"), main: true },
      numberLine("area", area, "×"),
      plainLine(
        "direction",
        { same: "as it is", up: "larger", down: "smaller", mixed: "larger and smaller" }[direction],
      ),
      whole.factor > 1 && plainLine("smallest whole enlargement", `${whole.factor}×`),
      whole.factor > 1 && shareLine("then scaled to", whole.residual),
    ]),
  drawing: ({ entries, into }) => <Two one={box(entries)} other={box(entries, "tw", "th")} into={into} />,
  part: (of) => asFrame(sides(of, "tw", "th"), sides(of, "tw", "th").join("x")),
  entriesFor: ({ from, to }) => ({ ...sidesOf(from), ...sidesOf(to, "tw", "th") }),
});
