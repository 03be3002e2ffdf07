export type Ink = "ink" | "cut" | "blue";

/** A dimension line with ticks, arrowheads and its figure, in screen units. */
interface Measure {
  from: number;
  to: number;
  /** Where the line stands on the other axis. */
  at: number;
  label: string;
  ink?: Ink | undefined;
  /** Whether a figure that is too long for its line stands above it: the line lies above what it measures. */
  above?: boolean | undefined;
  exact?: string | undefined;
  /** The row beside the line in which the figure stands, 0 for in the line; by itself it finds out. */
  lane?: number | undefined;
  /** Where the middle of the figure stands along the line; by itself in its middle. */
  middle?: number | undefined;
}

const CHARACTER = 7.25;
const ROW = 15;

/** How much room a figure takes along its line. */
export const widthOf = (label: string) => label.length * CHARACTER + 8;

function Arrows({ from, to }: { from: number; to: number }) {
  const short = to - from < 22;
  const head = (x: number, out: number) => `M${x + out * 5} -2.4L${x} 0L${x + out * 5} 2.4`;
  return (
    <>
      <path className="d-measure" d={`M${from} -5V5M${to} -5V5`} />
      {!short && <path className="d-measure" d={`${head(from, 1)}${head(to, -1)}`} />}
    </>
  );
}

/** The line from an end to the other, open where the figure stands. */
function Line({ from, to, label, beside }: { from: number; to: number; label: string; beside: number }) {
  const [middle, half] = [(from + to) / 2, widthOf(label) / 2];
  return (
    <>
      <Arrows from={from} to={to} />
      <path
        className="d-measure"
        d={
          beside === 0
            ? `M${from} 0H${middle - half}M${middle + half} 0H${to}`
            : `M${from} 0H${to}${Math.abs(beside) > 17 ? `M${middle} 0V${beside - Math.sign(beside) * 9}` : ""}`
        }
      />
    </>
  );
}

const laneOf = ({ from, to, label, lane }: Measure) => lane ?? (widthOf(label) < to - from - 12 ? 0 : 1);

/** Along the horizontal. */
export function MeasureAcross(measure: Measure) {
  const { from, to, at, label, ink = "ink", exact } = measure;
  const lane = laneOf(measure);
  const beside = lane === 0 ? 0 : measure.above ? -7 : 4 + lane * ROW;
  return (
    <g className={`measure ${ink}`} transform={`translate(0 ${at})`}>
      {exact && <title>{exact}</title>}
      <Line from={from} to={to} label={label} beside={beside} />
      <text x={measure.middle ?? (from + to) / 2} y={lane === 0 ? 4 : beside} textAnchor="middle">
        {label}
      </text>
    </g>
  );
}

/** Along the vertical; the figure is read from the right. */
export function MeasureDown(measure: Measure) {
  const { from, to, at, label, ink = "ink", exact } = measure;
  const lane = laneOf(measure);
  // Figures of a chain stand to the right of it, a single one to the left.
  const beside = lane === 0 ? 0 : measure.lane === undefined ? -7 : 4 + lane * ROW;
  return (
    <g className={`measure ${ink}`} transform={`translate(${at} 0) rotate(-90)`}>
      {exact && <title>{exact}</title>}
      <Line from={-to} to={-from} label={label} beside={beside} />
      <text x={-(measure.middle ?? (from + to) / 2)} y={lane === 0 ? 4 : beside} textAnchor="middle">
        {label}
      </text>
    </g>
  );
}
