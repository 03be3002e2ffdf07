import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button, ListGroup } from "react-bootstrap";
import { Link } from "react-router";
import type { Point } from "../../api/client";
import { pointsQuery } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { count } from "../../drawing/numbers";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { PointSheet } from "./PointSheet";
import { TolerancesForm } from "./TolerancesForm";

/** What stands open in the project, each cause once: who is affected, what helps, why it may stay. */
export default function PointsScreen() {
  const { project } = useBoard();
  const { data, error, isFetching } = useQuery(pointsQuery(project.id));
  const [chosen, setChosen] = useState<string>();
  const [settling, setSettling] = useState(false);
  const points = data?.points ?? [];
  // Where its cause is gone, the one that has taken its place is at hand.
  const last = useRef(0);
  const found = points.findIndex(({ key }) => key === chosen);
  const at = found >= 0 ? found : Math.min(last.current, points.length - 1);
  useEffect(() => {
    last.current = Math.max(0, at);
  }, [at]);
  const point = points[at];
  const list = useRef<HTMLDivElement>(null);
  const go = (to: number) => {
    const next = points[Math.max(0, Math.min(to, points.length - 1))];
    if (!next) return;
    setChosen(next.key);
    list.current?.querySelector<HTMLElement>(`[data-point="${next.key}"]`)?.focus();
  };
  useCommands("screen", {
    moveInList: (key) => {
      const steps: Record<string, number> = {
        ArrowUp: at - 1,
        ArrowDown: at + 1,
        PageUp: at - 6,
        PageDown: at + 6,
        Home: 0,
        End: points.length - 1,
      };
      // What stands beside the list scrolls by itself.
      if (document.activeElement?.closest(".point-sheet")) return false;
      go(steps[key] ?? at);
      return true;
    },
  });
  const open = points.filter((each) => each.open > 0);
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Open points"
        window={`Open points of ${project.values.name}`}
        up={{ to: `/projects/${project.id}/board`, name: "Board" }}
        note={
          data &&
          `${count(open.length, "point")} behind the findings of ${count(data.conversions, "conversion")}; ${data.flagged} of them flagged themselves; ${points.length - open.length} accepted`
        }
      >
        <Button active={settling} aria-pressed={settling} onClick={() => setSettling(!settling)}>
          Tolerances
        </Button>
      </ScreenHead>
      {error && <Notice role="alert">{failureText(error)}</Notice>}
      {settling && <TolerancesForm project={project} />}
      {data && points.length === 0 && (
        <Notice role="status">
          <SeverityMark severity={null} />
          <span>Nothing stands open: every conversion is clean.</span>
          <Link to={`/projects/${project.id}/handoff`}>Hand off</Link>
        </Notice>
      )}
      {data && points.length > 0 && (
        <div className="points" aria-busy={isFetching}>
          <section className="sheet" aria-label="Points">
            <ListGroup as="div" variant="flush" className="scroll" ref={list}>
              {points.map((each) => (
                <Row key={each.key} point={each} here={each === point} onChoose={() => setChosen(each.key)} />
              ))}
            </ListGroup>
            {data.mostly_lost > 0 && (
              <p className="foot quiet">
                {count(data.mostly_lost, "conversion")} {data.mostly_lost === 1 ? "keeps" : "keep"} under 40 %
                of the picture; where the ratios alone cost it, it is no point.
              </p>
            )}
          </section>
          {point && <PointSheet key={point.key} project={project.id} point={point} />}
        </div>
      )}
    </main>
  );
}

function Row({ point, here, onChoose }: { point: Point; here: boolean; onChoose: () => void }) {
  const { key, severity, title, detail, open, reason, conversions } = point;
  return (
    <ListGroup.Item
      action
      as="button"
      type="button"
      data-point={key}
      aria-current={here || undefined}
      className={`point ${open === 0 ? "accepted" : ""}`}
      tabIndex={here ? 0 : -1}
      onClick={onChoose}
    >
      <SeverityMark severity={open === 0 ? null : severity} accepted={open === 0} size={14} />
      <span>
        <b>{title}</b>
        <small>{reason ? `Accepted: ${reason}` : detail}</small>
      </span>
      <span className="size">
        <b className="num">
          {open === conversions.length || open === 0
            ? conversions.length
            : `${open} of ${conversions.length}`}
        </b>
        <small>{conversions.length === 1 ? "conversion" : "conversions"}</small>
      </span>
    </ListGroup.Item>
  );
}
