import { type PointerEvent, useRef, useState } from "react";
import { placed, placeIn } from "../../drawing/box";
import { type Degrees, net, ofUnrolled, onUnrolled, unrolled } from "../../drawing/unrolled";
import { useRoom } from "../../drawing/useRoom";
import type { Line, Point } from "./look";

export type Tool = "turn" | "look" | "put" | "horizon" | "uprights";

interface Props {
  picture: string | undefined;
  span: Degrees;
  tool: Tool;
  /** What the view sees, and where its middle is. */
  outline: readonly number[][];
  centre: readonly number[];
  /** Where the seam of the file lies. */
  seam: readonly number[][];
  horizon: readonly Point[];
  uprights: readonly Line[];
  /** The borders of the pictures that stand on it, and which one is chosen. */
  pictures: readonly number[][][];
  chosen: number;
  /** The horizon that was found by the marks. */
  found: readonly number[][] | undefined;
  label: string;
  onTurn: (from: Point, to: Point, keys: { shift: boolean; alt: boolean }) => void;
  onTurned: () => void;
  onLook: (at: Point) => void;
  onLooked: () => void;
  onHorizon: (at: Point) => void;
  onUpright: (line: Line) => void;
  onTake: (from: Point, picture: number | undefined) => void;
  onDrag: (to: Point) => void;
  onDrop: () => void;
}

/** All of the sphere, unrolled as it is turned: what hands turn, mark, and look at. */
export function Unrolled(props: Props) {
  const { picture, span, tool, outline, centre, seam, horizon, uprights, found } = props;
  const [ref, room] = useRoom<HTMLDivElement>({ width: 760, height: 380 });
  const [across, up] = span;
  const whole = { x: 0, y: 0, width: across, height: up };
  const box = placed(
    whole,
    placeIn(whole, {
      x: 34,
      y: 18,
      width: Math.max(80, room.width - 44),
      height: Math.max(40, room.height - 24),
    }),
  );
  const hand = useRef<{ from: Point; moved: boolean } | null>(null);
  const [line, setLine] = useState<Line>();
  const at = (event: PointerEvent<SVGSVGElement>): Point => {
    const sheet = event.currentTarget.getBoundingClientRect();
    return ofUnrolled([event.clientX - sheet.left, event.clientY - sheet.top], box, span);
  };
  const begin = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = at(event);
    hand.current = { from, moved: false };
    if (tool === "look") props.onLook(from);
    if (tool === "horizon") props.onHorizon(from);
    if (tool === "put") {
      const { picture } = (event.target as SVGElement).dataset;
      props.onTake(from, picture === undefined ? undefined : Number(picture));
    }
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const now = hand.current;
    if (!now) return;
    const to = at(event);
    now.moved = true;
    if (tool === "turn") props.onTurn(now.from, to, { shift: event.shiftKey, alt: event.altKey });
    if (tool === "look") props.onLook(to);
    if (tool === "put") props.onDrag(to);
    if (tool === "uprights") setLine([now.from, to]);
  };
  const end = () => {
    const now = hand.current;
    hand.current = null;
    if (!now) return;
    if (tool === "turn" && now.moved) props.onTurned();
    if (tool === "look") props.onLooked();
    if (tool === "put") props.onDrop();
    if (tool === "uprights" && line) props.onUpright(line);
    setLine(undefined);
  };
  const dot = (point: readonly number[]) => onUnrolled(point, box, span);
  const path = (points: readonly (readonly number[])[]) => unrolled(points, box, span);
  const [x, y] = dot(centre);
  const turns = [-1, 0, 1].map((turn) => `translate(${((turn * 360) / across) * box.width} 0)`);
  const degrees = (value: number) => `${value}°`;
  return (
    <div className="sphere-room" ref={ref}>
      <svg
        className={`sphere-unrolled tool-${tool}`}
        width={room.width}
        height={room.height}
        role="img"
        aria-label={props.label}
        onPointerDown={begin}
        onPointerMove={move}
        onPointerUp={end}
        onPointerCancel={end}
      >
        {picture && <image href={picture} {...box} preserveAspectRatio="none" />}
        <clipPath id="unrolled-edge">
          <rect {...box} />
        </clipPath>
        <g clipPath="url(#unrolled-edge)">
          {across === 360 && up === 180 && <path className="d-net" d={net(box)} />}
          <path className="d-equator" d={`M${box.x} ${box.y + box.height / 2}h${box.width}`} />
          {turns.map((transform) => (
            <g key={transform} transform={transform}>
              <path className="d-seam" d={path(seam)} />
              {found && <path className="d-horizon" d={path(found)} />}
              {props.pictures.map((border, at) => (
                <path
                  // biome-ignore lint/suspicious/noArrayIndexKey: the place is what it is known by
                  key={at}
                  data-picture={at}
                  className={`d-standing ${at === props.chosen ? "chosen" : ""}`}
                  d={path([...border, border[0] ?? [0, 0]])}
                />
              ))}
              <path className="d-look" d={path([...outline, outline[0] ?? [0, 0]])} />
            </g>
          ))}
          <path className="d-look" d={`M${x - 7} ${y}h14M${x} ${y - 7}v14`} />
          {[...uprights, ...(line ? [line] : [])].map((line) => (
            <path key={line.join()} className="d-upright" d={path(line)} />
          ))}
          {horizon.map((point) => {
            const [x, y] = dot(point);
            return <circle key={point.join()} className="d-mark" cx={x} cy={y} r={5} />;
          })}
        </g>
        <rect className="d-edge" {...box} />
        <text className="d-number" x={box.x} y={box.y - 5}>
          {degrees(-across / 2)}
        </text>
        <text className="d-number" x={box.x + box.width / 2} y={box.y - 5} textAnchor="middle">
          0° longitude
        </text>
        <text className="d-number" x={box.x + box.width} y={box.y - 5} textAnchor="end">
          {degrees(across / 2)}
        </text>
        {[up / 2, 0, -up / 2].map((latitude) => {
          const [, y] = dot([0, latitude]);
          const shift = latitude > 0 ? 10 : latitude < 0 ? 0 : 4;
          return (
            <text key={latitude} className="d-number" x={box.x - 5} y={y + shift} textAnchor="end">
              {degrees(latitude)}
            </text>
          );
        })}
      </svg>
    </div>
  );
}
