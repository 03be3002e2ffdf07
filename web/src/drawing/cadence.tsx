import { memo } from "react";
import type { Cadence } from "../api/client";

interface Props {
  cadence: Cadence;
  width: number;
  height: number;
}

/** The most delivery frames that are drawn. */
const MOST = 12;

/** Which source frame each delivery frame shows, over one cycle and on. */
function shownFrames(cycle: readonly number[]): number[] {
  const shown: number[] = [];
  for (let at = 0; shown.length < MOST && at < MOST * 4; at += 1) {
    const times = cycle[at % cycle.length] ?? 0;
    for (let each = 0; each < times && shown.length < MOST; each += 1) shown.push(at);
  }
  return shown;
}

/**
 * Source frames above, delivery frames below, each joined to the one that it shows: repeats fan out,
 * frames that are left out stay without a line.
 */
export const CadenceDrawing = memo(function CadenceDrawing({ cadence, width, height }: Props) {
  const cycle = cadence.cycle;
  if (!cycle) {
    return (
      <svg className="drawing" viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
        <path className="d-slip" d={slip(width, height)} />
      </svg>
    );
  }
  const shown = shownFrames(cycle);
  const last = shown.at(-1) ?? 0;
  const sources = Math.max(1, Math.min(last + 1, MOST * 4));
  const step = (width - 8) / Math.max(shown.length, sources);
  const top = height * 0.22;
  const bottom = height * 0.78;
  const used = new Set(shown);
  const box = step * 0.66;
  return (
    <svg className="drawing" viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      {shown.map((source, at) => (
        <line
          // biome-ignore lint/suspicious/noArrayIndexKey: delivery frames are told apart by their place alone
          key={at}
          className="d-measure"
          x1={4 + source * ((width - 8) / sources) + ((width - 8) / sources) * 0.33}
          y1={top + height * 0.12}
          x2={4 + at * ((width - 8) / shown.length) + ((width - 8) / shown.length) * 0.33}
          y2={bottom - height * 0.12}
        />
      ))}
      {Array.from({ length: sources }, (_, at) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: source frames are told apart by their place alone
          key={at}
          className={used.has(at) ? "d-picture edged" : "d-cut edged"}
          x={4 + at * ((width - 8) / sources)}
          y={top - height * 0.12}
          width={Math.min(box, ((width - 8) / sources) * 0.8)}
          height={height * 0.24}
        />
      ))}
      {shown.map((source, at) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: delivery frames are told apart by their place alone
          key={at}
          className={source % 2 === 0 ? "d-picture edged" : "d-second edged"}
          x={4 + at * ((width - 8) / shown.length)}
          y={bottom - height * 0.12}
          width={Math.min(box, ((width - 8) / shown.length) * 0.8)}
          height={height * 0.24}
        />
      ))}
    </svg>
  );
});

/** Two rulers that never meet. */
function slip(width: number, height: number): string {
  const ticks = (y: number, step: number, down: number) =>
    Array.from({ length: Math.floor((width - 8) / step) }, (_, at) => `M${4 + at * step} ${y}v${down}`).join(
      "",
    );
  return `M4 ${height * 0.45}H${width - 4}M4 ${height * 0.55}H${width - 4}${ticks(height * 0.45, 10, -height * 0.2)}${ticks(height * 0.55, 11.3, height * 0.2)}`;
}
