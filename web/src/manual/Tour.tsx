import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import { useLocation, useNavigate } from "react-router";
import { boardQuery } from "../api/queries";
import { keep, kept, thisWindow } from "../kept";
import { tip } from "../tip";
import { type Step, TOUR } from "./tour";

const KEPT = "ratiomet.tour";

/** Where the tour is, and of which project. */
interface At {
  project: number;
  place: number;
}

function isAt(value: unknown): value is At {
  const at = value as Partial<At> | null;
  return Number.isInteger(at?.project) && TOUR[at?.place ?? -1] !== undefined;
}

const readAt = () => kept<At | undefined>(thisWindow, KEPT, undefined, (value): value is At => isAt(value));

/** Begins the tour of a project, which goes along from screen to screen. */
export const beginTour = (project: number) => keep(thisWindow, KEPT, { project, place: 0 });

/** The step of the tour that somebody is at, over the screen that it is about. It can be left at any time. */
export function Tour() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { key } = useLocation();
  const [at, setAt] = useState(readAt);
  const [aside, setAside] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it may have begun before this screen was opened
  useEffect(() => setAt(readAt()), [key]);
  const step = at && TOUR[at.place];
  if (!at || !step) return null;
  const addressOf = ({ path }: Step) => {
    const board = client.getQueryData(boardQuery(at.project).queryKey);
    const [source, frame] = [board?.sources[0]?.id, board?.frames[0]?.id];
    if (!path) return "/slide-rule";
    const there = path.replace("SOURCE", String(source)).replace("FRAME", String(frame));
    // A project that has none yet has no such screen.
    return `/projects/${at.project}${there.includes("undefined") ? "/board" : there}`;
  };
  const go = (place: number | undefined) => {
    const next = place === undefined ? undefined : TOUR[place];
    const to = place === undefined ? undefined : { ...at, place };
    keep(thisWindow, KEPT, to ?? null);
    setAt(to);
    if (next) void navigate(addressOf(next));
  };
  const { place } = at;
  return (
    <aside className={`tour sheet ${aside ? "at-left" : ""}`} aria-label="Tour">
      <div className="sheet-head">
        <h2>{step.title}</h2>
        <small>
          {place + 1} of {TOUR.length}
        </small>
      </div>
      <p>{step.text}</p>
      <div className="tour-tools">
        {place > 0 && (
          <Button size="sm" onClick={() => go(place - 1)}>
            Back
          </Button>
        )}
        {place < TOUR.length - 1 && (
          <Button size="sm" variant="ink" onClick={() => go(place + 1)}>
            Next
          </Button>
        )}
        <Button
          size="sm"
          variant="plain"
          className="ms-auto"
          onClick={() => setAside(!aside)}
          {...tip("It covers what is below it: put it into the other corner")}
        >
          Move aside
        </Button>
        <Button size="sm" variant="plain" onClick={() => go(undefined)}>
          {place < TOUR.length - 1 ? "Leave tour" : "End tour"}
        </Button>
      </div>
    </aside>
  );
}
