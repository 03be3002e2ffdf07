import { around, type Box, overlap, placed, placeIn, union } from "../../drawing/box";
import { CadenceDrawing } from "../../drawing/cadence";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { short } from "../../drawing/numbers";
import { onScreen, ScreenLayers } from "../../drawing/onScreen";
import { useRoom } from "../../drawing/useRoom";
import { asNumber } from "../framing/slide";
import type { Entries, FamilyId, Results } from "./families";

interface Props<F extends FamilyId> {
  family: F;
  entries: Entries;
  result: Results[F];
}

const MARGIN = { left: 56, top: 40, right: 36, bottom: 44 };

/** An answer drawn in true proportion. */
export function RuleDrawing<F extends FamilyId>({ family, entries, result }: Props<F>) {
  const [ref, room] = useRoom<HTMLDivElement>({ width: 620, height: 420 });
  const into: Box = {
    x: MARGIN.left,
    y: MARGIN.top,
    width: room.width - MARGIN.left - MARGIN.right,
    height: room.height - MARGIN.top - MARGIN.bottom,
  };
  const number = (key: string) => asNumber(entries[key]);
  const size = (width: string, height: string): Box => ({
    x: 0,
    y: 0,
    width: number(width) || 1,
    height: number(height) || 1,
  });
  return (
    <div className="drawing-box" ref={ref}>
      {family === "rates" ? (
        <Rates result={result as Results["rates"]} width={room.width} height={Math.min(room.height, 220)} />
      ) : (
        <svg
          className="drawing"
          viewBox={`0 0 ${room.width} ${room.height}`}
          role="img"
          aria-label="The answer, drawn"
        >
          {family === "ratio" && (
            <Cut
              container={size("w", "h")}
              frame={(result as Results["ratio"]).frame}
              aspect={number("aspect") || 1}
              into={into}
            />
          )}
          {(family === "squeeze" || family === "pixels") && (
            <Squeezed stored={size("w", "h")} result={result as Results["squeeze"]} room={room} />
          )}
          {family === "scale" && <Two one={size("w", "h")} other={size("tw", "th")} into={into} />}
          {family === "push" && (
            <Cut
              container={size("w", "h")}
              frame={nativePixels(result as Results["push"])}
              aspect={1}
              into={into}
            />
          )}
          {family === "sphere" && <Sphere result={result as Results["sphere"]} into={into} />}
          {family === "view" && <OnSphere {...(result as Results["view"])} into={into} />}
          {family === "place" && (
            <OnSphere
              outline={(result as Results["place"]).outline}
              centre={[number("longitude"), number("latitude")]}
              into={into}
            />
          )}
          {(family === "decoder" || family === "bits") && <One box={size("w", "h")} into={into} />}
          {family === "screen" && (
            <OnScreen screen={size("sw", "sh")} result={result as Results["screen"]} into={into} />
          )}
        </svg>
      )}
    </div>
  );
}

function Measured({ box, width, height }: { box: Box; width: string; height: string }) {
  return (
    <>
      <MeasureAcross from={box.x} to={box.x + box.width} at={box.y - 16} label={width} />
      <MeasureDown from={box.y} to={box.y + box.height} at={box.x - 18} label={height} />
    </>
  );
}

/** The part of a source that fills the frame. */
const nativePixels = ({ window }: Results["push"]) => [window?.width.value ?? 1, window?.height.value ?? 1];

/** A frame out of a container, or around it. */
function Cut({
  container,
  frame: [width = 1, height = 1],
  aspect,
  into,
}: {
  container: Box;
  frame: readonly number[];
  aspect: number;
  into: Box;
}) {
  const wide = { ...container, width: container.width * aspect };
  const inner: Box = {
    x: (wide.width - width * aspect) / 2,
    y: (wide.height - height) / 2,
    width: width * aspect,
    height,
  };
  const place = placeIn(union(wide, inner), into);
  const [outer, cut] = [placed(wide, place), placed(inner, place)];
  return (
    <>
      <path className="d-cut" fillRule="evenodd" d={around(outer, overlap(outer, cut))} />
      <rect className="d-picture" {...cut} />
      <rect className="d-edge" {...outer} />
      <rect className="d-window" {...cut} />
      <Measured box={outer} width={String(container.width)} height={String(container.height)} />
      <MeasureAcross
        from={cut.x}
        to={cut.x + cut.width}
        at={cut.y + cut.height - 14}
        label={short(width, 1)}
        ink="blue"
      />
      <MeasureDown
        from={cut.y}
        to={cut.y + cut.height}
        at={cut.x + cut.width - 16}
        label={short(height, 1)}
        ink="blue"
      />
    </>
  );
}

/** As stored, and as seen, at one scale; with the window of a target. */
function Squeezed({
  stored,
  result,
  room,
}: {
  stored: Box;
  result: Results["squeeze"];
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

function One({ box, into }: { box: Box; into: Box }) {
  const whole = placed(box, placeIn(box, into));
  return (
    <>
      <rect className="d-picture" {...whole} />
      <rect className="d-edge" {...whole} />
      <Measured box={whole} width={String(box.width)} height={String(box.height)} />
    </>
  );
}

/** The net of longitudes and latitudes in each eye. */
function Sphere({ result, into }: { result: Results["sphere"]; into: Box }) {
  const [width = 1, height = 1] = result.frame;
  const [eyeWidth = 1, eyeHeight = 1] = result.eye;
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

function net({ x, y, width, height }: Box): string {
  const lines = [];
  for (let at = 1; at < 12; at += 1) lines.push(`M${x + (width * at) / 12} ${y}v${height}`);
  for (let at = 1; at < 6; at += 1) lines.push(`M${x} ${y + (height * at) / 6}h${width}`);
  return lines.join("");
}

/** What a view sees or a picture covers, as an outline on the unrolled sphere; broken at the seam. */
function OnSphere({
  outline,
  centre,
  into,
}: {
  outline: readonly number[][];
  centre: readonly number[];
  into: Box;
}) {
  const sphere = placed(
    { x: 0, y: 0, width: 360, height: 180 },
    placeIn({ x: 0, y: 0, width: 360, height: 180 }, into),
  );
  const at = ([longitude = 0, latitude = 0]: readonly number[]) =>
    [
      sphere.x + ((longitude + 180) / 360) * sphere.width,
      sphere.y + ((90 - latitude) / 180) * sphere.height,
    ] as const;
  // Unrolled on past the seam, and drawn once more a turn further on either side.
  let turn = 0;
  const points = [...outline, outline[0] ?? [0, 0]].map(([longitude = 0, latitude = 0], place, all) => {
    const before = all[place - 1]?.[0];
    if (before !== undefined && longitude - before > 180) turn -= 360;
    if (before !== undefined && longitude - before < -180) turn += 360;
    return at([longitude + turn, latitude]);
  });
  const path = points.map(([x, y], place) => `${place === 0 ? "M" : "L"}${x} ${y}`).join("");
  const [x, y] = at(centre);
  return (
    <>
      <rect className="d-picture" {...sphere} />
      <path className="d-third" d={net(sphere)} />
      <rect className="d-edge" {...sphere} />
      <clipPath id="sphere-edge">
        <rect {...sphere} />
      </clipPath>
      <g clipPath="url(#sphere-edge)">
        {[-1, 0, 1].map((turns) => (
          <path
            key={turns}
            className="d-window seen"
            d={path}
            transform={`translate(${turns * sphere.width} 0)`}
          />
        ))}
      </g>
      <path className="d-round" d={`M${x - 6} ${y}h12M${x} ${y - 6}v12`} />
      <Measured box={sphere} width="360°" height="180°" />
    </>
  );
}

/** A frame on a screen, measured and explained. */
function OnScreen({ screen, result, into }: { screen: Box; result: Results["screen"]; into: Box }) {
  const boxes = onScreen(screen, result, into);
  const { glass } = boxes;
  return (
    <>
      <ScreenLayers {...boxes} />
      <Measured box={glass} width={String(screen.width)} height={String(screen.height)} />
      <text className="words" x={glass.x} y={glass.y + glass.height + 22} fontSize="12">
        blue: the screen; grey: the player&apos;s bars; black: baked bars
      </text>
    </>
  );
}

function Rates({ result, width, height }: { result: Results["rates"]; width: number; height: number }) {
  const cycle = "cycle" in result ? (result.cycle ?? null) : [1];
  const mixed = "relation" in result && result.relation === "mixed";
  return (
    <CadenceDrawing cadence={{ words: "", cycle, speed: 1, mixed }} width={width - 40} height={height} />
  );
}
