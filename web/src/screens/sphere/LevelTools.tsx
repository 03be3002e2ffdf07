import { Button } from "react-bootstrap";
import type { LevelFound } from "../../api/client";
import { Key, keysOf } from "../../keys/Key";
import { angle } from "./look";

export interface Levelled {
  level: LevelFound | undefined;
  problem: string;
}

interface Props {
  found: Levelled;
  horizon: number;
  uprights: number;
  onLevel: () => void;
  onClear: () => void;
}

const number = (value: number) => `${value < 0 ? "−" : ""}${Math.abs(value).toFixed(6)}`;

/** Levelling by marks: what they tell, how well they agree, and the turn in other spellings. */
export function LevelTools({ found: { level, problem }, horizon, uprights, onLevel, onClear }: Props) {
  const marked = horizon + uprights;
  const said = () => {
    if (marked === 0)
      return "Mark two points or more along the horizon, or a line along something upright, in the whole sphere or, finer, in the view.";
    if (problem) return problem;
    if (!level) return horizon === 1 ? "One more point along the horizon." : "Calculating …";
    const marks = horizon > 0 ? `${horizon} points` : `${uprights} ${uprights === 1 ? "line" : "lines"}`;
    return `Tilted by ${angle(level.tilt, 2)}. ${marks}; the one that fits worst misses by ${angle(level.residual, 2)}.`;
  };
  return (
    <fieldset className="tools" aria-label="Level">
      <h2>Level by marks</h2>
      <p className="small mb-1" role="status">
        {said()}
      </p>
      <div className="tool-row">
        <Button size="sm" variant="ink" disabled={!level} onClick={onLevel} {...keysOf("levelSphere")}>
          Level the sphere <Key of="levelSphere" />
        </Button>
        <Button size="sm" disabled={marked === 0} onClick={onClear}>
          Clear the marks
        </Button>
      </div>
      {level && (
        <details className="small">
          <summary>The turn for other programs</summary>
          <table className="turn-spellings">
            <tbody>
              <tr>
                <th>camera</th>
                <td>
                  yaw {angle(level.turn.yaw, 3)}, pitch {angle(level.turn.pitch, 3)}, roll{" "}
                  {angle(level.turn.roll, 3)}
                </td>
              </tr>
              <tr>
                <th>pitch down</th>
                <td>
                  yaw {angle(level.turn.yaw, 3)}, pitch {angle(-Number(level.turn.pitch), 3)}, roll{" "}
                  {angle(-Number(level.turn.roll), 3)}
                </td>
              </tr>
              <tr>
                <th>sphere turned back</th>
                <td>
                  yaw {angle(level.back.yaw, 3)}, pitch {angle(level.back.pitch, 3)}, roll{" "}
                  {angle(level.back.roll, 3)}
                </td>
              </tr>
              <tr>
                <th>matrix</th>
                <td className="num">
                  {level.matrix.map((row) => (
                    <div key={row.join()}>{row.map(number).join("  ")}</div>
                  ))}
                </td>
              </tr>
            </tbody>
          </table>
        </details>
      )}
    </fieldset>
  );
}
