import type { Subject } from "../api/client";
import type { Box } from "./box";
import { asNumber } from "./numbers";

/** Where a subject stands in the drawing of a whole upright picture. */
export function subjectIn(subject: Subject, whole: Box): Box {
  return {
    x: whole.x + asNumber(subject.x) * whole.width,
    y: whole.y + asNumber(subject.y) * whole.height,
    width: asNumber(subject.width) * whole.width,
    height: asNumber(subject.height) * whole.height,
  };
}

/** A subject: its four corners, so that the picture inside stays free. */
export function SubjectMark({
  box,
  named,
  within,
}: {
  box: Box;
  named?: boolean | undefined;
  within?: Box | undefined;
}) {
  const { x, y, width, height } = box;
  const [left, right] = within
    ? [within.x, within.x + within.width]
    : [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
  const middle = x + width / 2;
  const readable = middle - 26 > left && middle + 26 < right;
  const arm = Math.max(4, Math.min(12, width / 3, height / 3));
  const corner = (cx: number, cy: number, right: number, down: number) =>
    `M${cx} ${cy + arm * down}V${cy}H${cx + arm * right}`;
  return (
    <g className="d-subject">
      <path
        d={[
          corner(x, y, 1, 1),
          corner(x + width, y, -1, 1),
          corner(x, y + height, 1, -1),
          corner(x + width, y + height, -1, -1),
        ].join("")}
      />
      {named && readable && (
        <text x={middle} y={y - 5} textAnchor="middle">
          subject
        </text>
      )}
    </g>
  );
}
