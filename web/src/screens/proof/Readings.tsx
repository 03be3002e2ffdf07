import type { Readings } from "../../api/client";
import { short } from "../../drawing/numbers";
import { tip } from "../../tip";
import { LETTERS } from "./variants";

interface Props {
  readings: (Readings | undefined)[];
  chosen: number;
}

/** What is measured in each outcome, one column for each variant. */
export function ReadingsTable({ readings, chosen }: Props) {
  const rows: [string, string, (reading: Readings) => string | null | undefined][] = [
    [
      "edge, px",
      "delivery pixels across the edge, from 10 to 90 % of its height",
      ({ edge }) => edge && short(edge.width, 2),
    ],
    [
      "half response",
      "cycles a pixel at which half of the contrast is left (ISO 12233, slanted edge)",
      ({ edge }) => (edge?.half ? short(edge.half, 3) : undefined),
    ],
    [
      "ringing, %",
      "by how much it swings over, in percent of the edge's height",
      ({ edge }) => edge && short(edge.ringing, 1),
    ],
    ["noise", "standard deviation beside the edge, of 255", ({ edge }) => edge && short(edge.noise, 1)],
    [
      "roundness",
      "width over height of the scene's circle, by an ellipse through it",
      ({ ring }) => ring?.roundness.toFixed(4),
    ],
    [
      "circle off, px",
      "how far its middle lies from where it is planned, in delivery pixels",
      ({ ring }) => ring && short(ring.off, 2),
    ],
  ];
  return (
    <table className="readings num">
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">reading</span>
          </th>
          {readings.map((_, at) => (
            <th key={LETTERS[at]} className={at === chosen ? `v-${LETTERS[at]} on` : `v-${LETTERS[at]}`}>
              {LETTERS[at]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, what, value]) => (
          <tr key={name}>
            <th {...tip(what)}>{name}</th>
            {readings.map((reading, at) => (
              <td key={LETTERS[at]}>{reading ? (value(reading) ?? "–") : "…"}</td>
            ))}
          </tr>
        ))}
        <tr>
          <th {...tip("lines without any picture at a side, against the bars that are planned")}>
            stray black
          </th>
          {readings.map((reading, at) => (
            <td key={LETTERS[at]}>{reading ? unplanned(reading) : "…"}</td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

function unplanned({ black, planned_black }: Readings) {
  const over = black.map((lines, side) => lines - (planned_black[side] ?? 0));
  const most = Math.max(...over);
  const least = Math.min(...over);
  if (most <= 0 && least >= 0) return <span className="text-ok">none</span>;
  return <span className="text-caution">{most > 0 ? `${most} px` : `${least} px`}</span>;
}

const WIDTH = 220;
const HEIGHT = 170;
const LEFT = 26;
const BOTTOM = 18;

/** How much of a contrast is left at each frequency. */
export function ResponseChart({ readings }: { readings: (Readings | undefined)[] }) {
  const x = (cycles: number) => LEFT + (cycles / 0.5) * (WIDTH - LEFT - 8);
  const y = (left: number) => 6 + (1 - Math.min(left, 1.2) / 1.2) * (HEIGHT - BOTTOM - 6);
  const curves = readings.map((reading) => reading?.edge?.response ?? []);
  if (curves.every((curve) => curve.length === 0)) return null;
  return (
    <svg
      className="response"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label="Contrast that is left at each frequency"
    >
      {[0, 0.5, 1].map((level) => (
        <g key={level}>
          <path className="d-axis" d={`M${LEFT} ${y(level)}H${WIDTH - 8}`} />
          <text x={LEFT - 5} y={y(level) + 4} textAnchor="end">
            {level * 100}
          </text>
        </g>
      ))}
      <text x={LEFT} y={HEIGHT - 4}>
        0
      </text>
      <text x={(LEFT + WIDTH) / 2} y={HEIGHT - 4} textAnchor="middle">
        cycles a pixel
      </text>
      <text x={WIDTH - 8} y={HEIGHT - 4} textAnchor="end">
        ½
      </text>
      {curves.map((curve, at) => {
        const path = curve
          .map((left, step) => `${step === 0 ? "M" : "L"}${x(step / 64)} ${y(left)}`)
          .join("");
        // Each letter at another place of its curve.
        const mark = Math.min(curve.length - 1, 10 + at * 5);
        return (
          <g key={LETTERS[at]} className={`v-${LETTERS[at]}`}>
            <path className="curve" d={path} />
            {curve.length > 0 && (
              <text x={x(mark / 64) + 4} y={y(curve[mark] ?? 0) - 4}>
                {LETTERS[at]}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
