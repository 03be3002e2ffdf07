/** A dimension line with ticks, arrowheads and its figure, in screen units. */
interface Measure {
  from: number;
  to: number;
  /** Where the line stands on the other axis. */
  at: number;
  label: string;
  ink?: "ink" | "cut" | "blue";
  exact?: string;
}

const CHARACTER = 7.25;

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

/** Along the horizontal. */
export function MeasureAcross({ from, to, at, label, ink = "ink", exact }: Measure) {
  const width = label.length * CHARACTER + 8;
  const fits = width < to - from - 12;
  const middle = (from + to) / 2;
  return (
    <g className={`measure ${ink}`} transform={`translate(0 ${at})`}>
      {exact && <title>{exact}</title>}
      <Arrows from={from} to={to} />
      <path
        className="d-measure"
        d={fits ? `M${from} 0H${middle - width / 2}M${middle + width / 2} 0H${to}` : `M${from} 0H${to}`}
      />
      <text x={middle} y={fits ? 4 : 17} textAnchor="middle">
        {label}
      </text>
    </g>
  );
}

/** Along the vertical; the figure is read from the right. */
export function MeasureDown({ from, to, at, label, ink = "ink", exact }: Measure) {
  const width = label.length * CHARACTER + 8;
  const fits = width < to - from - 12;
  const middle = (from + to) / 2;
  return (
    <g className={`measure ${ink}`} transform={`translate(${at} 0) rotate(-90)`}>
      {exact && <title>{exact}</title>}
      <Arrows from={-to} to={-from} />
      <path
        className="d-measure"
        d={fits ? `M${-to} 0H${-middle - width / 2}M${-middle + width / 2} 0H${-from}` : `M${-to} 0H${-from}`}
      />
      <text x={-middle} y={fits ? 4 : -7} textAnchor="middle">
        {label}
      </text>
    </g>
  );
}
