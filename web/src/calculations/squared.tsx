import type { components } from "../api/schema";
import { around, type Box, placed, placeIn, union } from "../drawing/box";
import { MeasureAcross } from "../drawing/measure";
import { short } from "../drawing/numbers";
import { Measured } from "./drawn";
import { errorLine, frameLine, known, type Line, numberLine, pairLine, shareLine } from "./lines";

type Squared = components["schemas"]["DesqueezeResult"];

/** Both ways to square pixels, and what a target keeps. */
export function squaredLines({ ratio, factor, widened, flattened, target }: Squared, part: string): Line[] {
  return known([
    { ...numberLine("shows", ratio, ": 1"), main: true },
    numberLine("pixels are wider than high by", factor, "×"),
    frameLine("square pixels, all lines kept", widened.frame),
    errorLine("error of its ratio", widened.distortion),
    frameLine("square pixels, all columns kept", flattened.frame),
    errorLine("error of its ratio", flattened.distortion),
    target && shareLine(`the ${part} keeps`, target.kept),
    target &&
      pairLine(`${part === "target" ? "window" : part}, stored pixels`, [
        target.window.width,
        target.window.height,
      ]),
    target && pairLine("free on each side, stored pixels", [target.room.x, target.room.y]),
    target && frameLine(`${part} in square pixels, all lines kept`, target.widened),
    target && frameLine(`${part} in square pixels, all columns kept`, target.flattened),
  ]);
}

/** As stored, and as seen, at one scale; with the window of a target. */
export function SquaredDrawing({
  stored,
  result,
  room,
}: {
  stored: Box;
  result: Squared;
  room: { width: number; height: number };
}) {
  const factor = result.factor.value;
  const seen = { ...stored, width: stored.width * factor };
  // Beside or above each other, whichever leaves more room.
  const spaces = (stacked: boolean) =>
    [0, 1].map((at): Box => {
      const across = stacked ? room.width : room.width / 2;
      const down = stacked ? room.height / 2 : room.height;
      return {
        x: 60 + (stacked ? 0 : at * across),
        y: 46 + (stacked ? at * down : 0),
        width: Math.max(20, across - 90),
        height: Math.max(20, down - 90),
      };
    });
  const scaleOf = (stacked: boolean) => placeIn(union(stored, seen), spaces(stacked)[0] ?? stored).k;
  const stacked = scaleOf(true) > scaleOf(false);
  const k = scaleOf(stacked);
  const centred = (box: Box, space: Box | undefined) =>
    placed(box, {
      k,
      x: (space?.x ?? 0) + ((space?.width ?? 0) - box.width * k) / 2,
      y: (space?.y ?? 0) + ((space?.height ?? 0) - box.height * k) / 2,
    });
  const [first, second] = spaces(stacked);
  const [left, right] = [centred(stored, first), centred(seen, second)];
  const window = result.target?.window;
  const cut = (box: Box, across: number): Box | undefined =>
    window && {
      x: box.x + window.x.value * k * across,
      y: box.y + window.y.value * k,
      width: window.width.value * k * across,
      height: window.height.value * k,
    };
  const radius = Math.min(right.width, right.height) * 0.25;
  const part = (box: Box, across: number, name: string, width: string, height: string) => {
    const kept = cut(box, across);
    return (
      <>
        <text className="words" x={box.x} y={box.y - 32} fontSize="12.5">
          {name}
        </text>
        {kept && <path className="d-cut" fillRule="evenodd" d={around(box, kept)} />}
        <rect className="d-picture" {...(kept ?? box)} />
        <ellipse
          className="d-round"
          cx={box.x + box.width / 2}
          cy={box.y + box.height / 2}
          rx={(radius * across) / factor}
          ry={radius}
        />
        <rect className="d-edge" {...box} />
        {kept && <rect className="d-window" {...kept} />}
        <Measured box={box} width={width} height={height} />
        {kept && window && (
          <MeasureAcross
            from={kept.x}
            to={kept.x + kept.width}
            at={box.y + box.height + 18}
            label={short(window.width.value * across, 1)}
            ink="blue"
          />
        )}
      </>
    );
  };
  return (
    <>
      {part(left, 1, "as stored", String(stored.width), String(stored.height))}
      {part(right, factor, "as seen", short(seen.width, 1), String(stored.height))}
    </>
  );
}
