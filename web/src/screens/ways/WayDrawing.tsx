import type { Frame, Source, Ways } from "../../api/client";
import { placed, placeIn, stretchAcross } from "../../drawing/box";
import { pixelAspectOf } from "../../drawing/crossing";
import { percent, raster } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";

interface Props {
  ways: Ways;
  frames: Frame[];
  source: Source;
  /** The place of the source in the list. */
  row: number;
}

/** A frame in the drawing: how far along the ways, and in which row. */
interface Station {
  frame: Frame;
  from: number | null;
  step: number;
  line: number;
  after: number;
  lost: boolean;
}

/** Every frame once, behind the one through which pictures reach it. */
function stations(ways: Ways, frames: Frame[], row: number): Station[] {
  const byId = new Map(frames.map((frame) => [frame.id, frame]));
  const onward = (id: number | null) =>
    ways.frames.filter(({ way }) => (way.length > 1 ? way.at(-2) : null) === id);
  const laid: Station[] = [];
  let line = 0;
  const lay = (id: number | null, step: number) => {
    for (const way of onward(id)) {
      const frame = byId.get(way.frame);
      const here = way.sources[row];
      if (!frame || laid.some((station) => station.frame.id === way.frame)) continue;
      const station: Station = {
        frame,
        from: id,
        step,
        line,
        after: Math.min(1, here?.detail.x.value ?? 0),
        lost: here?.detour ?? false,
      };
      laid.push(station);
      const before = line;
      lay(way.frame, step + 1);
      if (line === before) line += 1;
    }
  };
  lay(null, 0);
  return laid;
}

/** The source at the left, and from it a line to each frame, as thick as what is left of its detail. */
export function WayDrawing({ ways, frames, source, row }: Props) {
  const [ref, seen] = useRoom<HTMLDivElement>({ width: 900, height: 260 });
  const all = stations(ways, frames, row);
  const lines = Math.max(1, ...all.map(({ line }) => line + 1));
  const steps = Math.max(1, ...all.map(({ step }) => step + 1));
  // Where names have no room, the drawing is scrolled.
  const room = { ...seen, width: Math.max(seen.width, 200 + steps * 190) };
  const height = Math.max(room.height, lines * 40 + 16);
  const each = (height - 16) / lines;
  const first = 170;
  const across = (room.width - first - 30) / steps;
  const xOf = (step: number) => first + step * across + across * 0.35;
  const yOf = (line: number) => 8 + (line + 0.5) * each;
  const middle = height / 2;
  const place = (frame: Frame, step: number, line: number) => {
    const [w = 1, h = 1] = frame.values.geometry.raster;
    const whole = stretchAcross({ x: 0, y: 0, width: w, height: h }, pixelAspectOf(frame));
    const into = { x: xOf(step), y: yOf(line) - 13, width: 44, height: 26 };
    return placed(whole, placeIn(whole, into));
  };
  return (
    <div
      className="drawing-box scroll"
      ref={ref}
      tabIndex={room.width > seen.width || height > seen.height ? 0 : undefined}
    >
      <svg
        className="drawing"
        style={{ height, minWidth: room.width }}
        viewBox={`0 0 ${room.width} ${height}`}
        role="img"
        aria-label={`Routes from ${source.values.name} to ${frames.length} frames`}
      >
        {all.map(({ frame, from, step, line, after, lost }) => {
          const back = all.find((station) => station.frame.id === from);
          const box = place(frame, step, line);
          const start = back
            ? xOf(back.step) + 58 + Math.max(86, back.frame.values.name.length * 6.6)
            : first - 30;
          const level = back ? yOf(back.line) : middle;
          const end = box.x - 4;
          const bend = (start + end) / 2;
          return (
            <g key={frame.id}>
              <path
                className={lost ? "d-way lost" : "d-way"}
                strokeWidth={Math.max(1, after * 9)}
                d={`M${start} ${level}C${bend} ${level} ${bend} ${yOf(line)} ${end} ${yOf(line)}`}
              />
              <rect className="d-picture" {...box} />
              <rect className="d-edge" {...box} />
              <text className="words" x={xOf(step) + 50} y={yOf(line) - 2} fontSize="12.5">
                {frame.values.name}
              </text>
              <text x={xOf(step) + 50} y={yOf(line) + 12} fontSize="11">
                {percent(after)} % left{lost ? " · detail lost" : ""}
              </text>
            </g>
          );
        })}
        <text className="words" x={14} y={middle - 4} fontSize="12.5" fontWeight="600">
          {source.values.name}
        </text>
        <text x={14} y={middle + 12} fontSize="11">
          {raster(source.values.geometry.raster)}
        </text>
      </svg>
    </div>
  );
}
