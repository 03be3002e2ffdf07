import type { Calculation, Entries } from "../../calculations";
import type { Box } from "../../drawing/box";
import { useRoom } from "../../drawing/useRoom";

const MARGIN = { left: 56, top: 40, right: 36, bottom: 44 };

interface Props {
  calculation: Calculation;
  entries: Entries;
  result: Parameters<Calculation["lines"]>[0];
}

/** An answer drawn in true proportion. */
export function RuleDrawing({ calculation, entries, result }: Props) {
  const [ref, room] = useRoom<HTMLDivElement>({ width: 620, height: 420 });
  const into: Box = {
    x: MARGIN.left,
    y: MARGIN.top,
    width: room.width - MARGIN.left - MARGIN.right,
    height: room.height - MARGIN.top - MARGIN.bottom,
  };
  const drawing = calculation.drawing({ result, entries, room, into });
  return (
    <div className="drawing-box" ref={ref}>
      {calculation.kind === "cadence" ? (
        drawing
      ) : (
        <svg
          className="drawing"
          viewBox={`0 0 ${room.width} ${room.height}`}
          role="img"
          aria-label={`The answer to ${calculation.name}, drawn`}
        >
          {drawing}
        </svg>
      )}
    </div>
  );
}
