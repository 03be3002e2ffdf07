import { useQueries } from "@tanstack/react-query";
import type { Conversion, Frame, Method, Source } from "../../api/client";
import { conversionPreview } from "../../api/queries";
import { CrossingDrawing } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { short } from "../../drawing/numbers";
import { METHODS } from "../../shell/methods";
import { useBoard } from "../../shell/ProjectLayout";
import { sizeText } from "../board/summary";
import { isMoved, plainFraming } from "../board/useChooseFraming";

interface Props {
  source: Source;
  frame: Frame;
  conversion: Conversion;
  onMethod: (method: Method) => void;
}

/** Every method side by side, with what it costs. */
export function MethodCards({ source, frame, conversion, onMethod }: Props) {
  const { project } = useBoard();
  // What the cards are computed from; not the framing, so that they stay while it moves.
  const stamp = `${source.version}.${frame.version}`;
  const path = { project: project.id, source: source.id, frame: frame.id };
  const previews = useQueries({
    queries: METHODS.map(({ id }) => conversionPreview(path, plainFraming(id), stamp)),
  });
  return (
    <section className="side-by-side" aria-label="Methods side by side">
      {METHODS.map(({ id, name, does }, at) => {
        const answer = previews[at]?.data;
        const crossing = answer?.sound ? answer.value.crossing : undefined;
        const chosen = conversion.framing.method === id && !isMoved(conversion.framing);
        return (
          <button
            key={id}
            type="button"
            className="method-card"
            aria-pressed={chosen}
            title={does}
            onClick={() => onMethod(id)}
          >
            <span className="row-1">
              <b>{name}</b>
              <span className="num">{crossing && sizeText(crossing.native_percent)}</span>
              <SeverityMark severity={crossing?.severity} />
            </span>
            <div className="card-drawing">
              {crossing && <CrossingDrawing crossing={crossing} frame={frame} width={170} height={54} />}
            </div>
            <span className="num quiet">
              {/* The room is kept while it is worked out, so that nothing jumps. */}
              {crossing
                ? `keeps ${short(crossing.kept * 100, 0)}% · covers ${short(crossing.covered * 100, 0)}%`
                : "\u00a0"}
            </span>
          </button>
        );
      })}
    </section>
  );
}
