import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import type { Conversion, Crossing, FramingSet, Method } from "../../api/client";
import { conversionQuery, crossingAt, pointsQuery } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { count } from "../../drawing/numbers";
import { tally } from "../../drawing/summary";
import { Key, keysOf } from "../../keys/Key";
import { methodCommands } from "../../keys/methodCommands";
import { methodName, SPEAKERS } from "../../keys/methods";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { useNotices } from "../../notices/notices";
import { useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { useTreatment } from "../../shell/treatment";
import { useNarrow } from "../../shell/useNarrow";
import { usePrinting } from "../../shell/usePrinting";
import { useBoardMethod } from "../../writes/useBoardMethod";
import { plainFraming, useChooseFraming } from "../../writes/useChooseFraming";
import { useEdit } from "../../writes/useEdit";
import { arrange, type Filters, type Grouping, isFiltering, NO_FILTERS, type Sort } from "./arrange";
import { BoardTools } from "./BoardTools";
import type { Asking, View } from "./Cell";
import { Glance } from "./Glance";
import { Grid } from "./Grid";
import { MethodButtons } from "./MethodButtons";
import { Paper } from "./Paper";
import { key, useBoardPlace } from "./useBoardPlace";

/** The parts of a framing that can be given to other conversions. */
const PARTS = [
  ["method", "method"],
  ["zoom", "zoom"],
  ["shift", "shift"],
] as const;

export function BoardScreen() {
  const board = useBoard();
  const { project, sources, frames } = board;
  const client = useQueryClient();
  const navigate = useNavigate();
  const { tellFailure } = useNotices();
  const [filters, setFilters] = useState<Filters>(NO_FILTERS);
  const [sort, setSort] = useState<Sort>("entry");
  const [grouping, setGrouping] = useState<Grouping>("none");
  const [view, setView] = useState<View>("frames");
  const asked = useDeferredValue(filters);
  const { lines, counted } = useMemo(
    () => arrange(board, asked, sort, grouping),
    [board, asked, sort, grouping],
  );
  const rows = useMemo(() => lines.flatMap((line) => ("row" in line ? [line.row] : [])), [lines]);
  const isShown = useMemo(() => {
    // Asked only while something is selected.
    let pairs: ReadonlySet<string> | undefined;
    return (pair: string) => {
      pairs ??= new Set(counted.map((each) => key(each.source, each.frame)));
      return pairs.has(pair);
    };
  }, [counted]);
  const place = useBoardPlace(board, rows, isShown);
  const { row, column, source, frame, picked } = place;
  const choose = useChooseFraming(project.id);
  const edit = useEdit(project.id);
  const [treatment, setTreatment] = useTreatment();
  const printing = usePrinting();
  const onPhone = useNarrow("phone");
  const plans = useMay("plan");
  const crossing = row >= 0 && column >= 0 ? crossingAt(board, rows[row] ?? -1, column) : undefined;
  const { data: points } = useQuery(pointsQuery(project.id));
  const counts = useMemo(() => tally(counted), [counted]);
  const pairs = (): [number, number][] =>
    picked.size > 0
      ? [...picked].map((each) => each.split("-").map(Number) as [number, number])
      : crossing
        ? [[crossing.source, crossing.frame]]
        : [];

  // One that is picked and is not the one at hand counts too: it is what remains of several.
  const several =
    picked.size > 1 || (picked.size === 1 && !(crossing && picked.has(key(crossing.source, crossing.frame))));
  const setBoardMethod = useBoardMethod(board);
  // What was asked for is written on its cell at once; its drawing follows with the answer.
  const [asking, setAsking] = useState<Asking>();
  const setMethod = (method: Method | null) => {
    if (several) {
      void edit({
        edit: "set_conversions",
        conversions: pairs(),
        own: method === null ? null : plainFraming(method),
      });
    } else if (crossing && source && frame) {
      if (method === null && crossing.speaker !== "own") return;
      const what = `${source.values.name} into ${frame.values.name}`;
      const asked = { pair: key(source.id, frame.id), method };
      setAsking(asked);
      void choose(
        { source: source.id, frame: frame.id },
        crossing.version,
        method === null ? null : plainFraming(method),
        what,
      ).finally(() => setAsking((now) => (now === asked ? undefined : now)));
    } else if (row >= 0 && source) void edit({ edit: "set_sources", sources: [source.id], set: { method } });
    else if (column >= 0 && frame) void edit({ edit: "set_frames", frames: [frame.id], set: { method } });
    else if (method) void setBoardMethod(method);
  };
  const open = () => {
    if (!crossing) return false;
    place.writeNote();
    void navigate(`/projects/${project.id}/board/${crossing.source}/${crossing.frame}`);
    return true;
  };
  const take = async () => {
    if (!crossing || !source || !frame) return;
    const path = { project: project.id, source: source.id, frame: frame.id };
    try {
      const { framing }: Conversion = await client.fetchQuery(conversionQuery(path));
      const name = `${source.values.name} into ${frame.values.name}`;
      setTreatment({ of: "conversion", name, parts: PARTS.map(([id]) => id), framing });
    } catch (error) {
      tellFailure("Not copied", error);
    }
  };
  const give = () => {
    if (treatment?.of !== "conversion" || pairs().length === 0) return;
    const { framing, parts } = treatment;
    const set: FramingSet = {};
    if (parts.includes("method")) set.method = framing.method;
    if (parts.includes("zoom")) set.zoom = framing.zoom;
    if (parts.includes("shift")) set.shift = framing.shift;
    void edit({ edit: "set_framing_parts", conversions: pairs(), set });
  };
  useCommands("screen", {
    // Nothing is at hand in a list.
    ...(plans &&
      !onPhone && {
        ...methodCommands(setMethod),
        copySettings: () => take(),
        applySettings: () => give(),
      }),
    rates: () => setView(view === "rates" ? "frames" : "rates"),
  });
  const method =
    crossing?.method ??
    (row >= 0 ? source?.values.method : column >= 0 ? frame?.values.method : project.values.method) ??
    undefined;
  const own =
    several ||
    (crossing
      ? crossing.speaker === "own"
      : Boolean(row >= 0 ? source?.values.method : column >= 0 && frame?.values.method));
  const level = several
    ? `${picked.size} selected`
    : crossing
      ? ""
      : row >= 0
        ? "whole row"
        : column >= 0
          ? "whole column"
          : "whole board";

  const tools = (
    <BoardTools
      imported={board.crossings.some(({ imported }) => imported)}
      filters={filters}
      sort={sort}
      grouping={grouping}
      view={view}
      onFilters={(part) => setFilters((now) => ({ ...now, ...part }))}
      onSort={setSort}
      onGrouping={setGrouping}
      onView={setView}
    />
  );
  return (
    <main className="page board-page" id="main">
      <ScreenHead
        title="Board"
        window={`Board of ${project.values.name}`}
        note={
          isFiltering(asked) || asked.words
            ? `${counted.length} of ${count(board.crossings.length, "conversion")}`
            : count(board.crossings.length, "conversion")
        }
        beside={
          <>
            <Link className="tally open-points" to={`/projects/${project.id}/board/points`}>
              {points
                ? count(points.points.filter(({ open }) => open > 0).length, "open point")
                : "open points"}
            </Link>
            <span className="tally ok">
              <SeverityMark severity={null} /> {counts.clean} clean
            </span>
            <span className="tally caution">
              <SeverityMark severity="caution" /> {counts.caution} to check
            </span>
            {counts.stop > 0 && (
              <span className="tally stop">
                <SeverityMark severity="stop" /> {counts.stop} blocking
              </span>
            )}
          </>
        }
      >
        {plans && !onPhone && (
          <>
            {level && <b className="level">{level}</b>}
            <MethodButtons
              method={method}
              own={own}
              disabled={board.crossings.length === 0}
              onMethod={setMethod}
            />
          </>
        )}
      </ScreenHead>
      {board.crossings.length > 0 ? (
        <>
          {onPhone ? (
            <details className="folded">
              <summary>Filter and order{isFiltering(filters) || filters.words ? ": on" : ""}</summary>
              {tools}
            </details>
          ) : (
            tools
          )}
          {printing && <Paper board={board} lines={lines} view={view} />}
          {lines.length > 0 && onPhone ? (
            <Glance board={board} lines={lines} filters={asked} view={view} />
          ) : lines.length > 0 ? (
            <Grid
              board={board}
              lines={lines}
              place={place}
              filters={asked}
              view={view}
              asking={asking}
              onOpen={open}
            />
          ) : (
            <Notice>
              <span>No conversion matches this filter.</span>
              <Button onClick={() => setFilters(NO_FILTERS)}>Clear filters</Button>
            </Notice>
          )}
        </>
      ) : (
        <Notice>
          <span>The board needs at least one source and one frame.</span>
          {plans && sources.length === 0 && <Link to={`/projects/${project.id}/footage`}>Add footage</Link>}
          {plans && frames.length === 0 && <Link to={`/projects/${project.id}/deliveries`}>Add a frame</Link>}
        </Notice>
      )}
      {treatment?.of === "conversion" && lines.length > 0 && !onPhone && (
        <fieldset className="legend" aria-label="Copied framing">
          <span>
            Framing of <b className="d-inline">{treatment.name}</b>:
          </span>
          {PARTS.map(([id, name]) => (
            <Form.Check
              key={id}
              id={`part-${id}`}
              label={name}
              checked={treatment.parts.includes(id)}
              onChange={(event) =>
                setTreatment({
                  ...treatment,
                  parts: event.target.checked
                    ? [...treatment.parts, id]
                    : treatment.parts.filter((part) => part !== id),
                })
              }
            />
          ))}
          <Button size="sm" disabled={pairs().length === 0 || treatment.parts.length === 0} onClick={give}>
            Apply to {count(pairs().length, "conversion")} <Key of="applySettings" />
          </Button>
          <Button size="sm" variant="plain" onClick={() => setTreatment(undefined)}>
            Done
          </Button>
        </fieldset>
      )}
      {lines.length > 0 && !onPhone && <Legend crossing={crossing} view={view} onOpen={open} />}
    </main>
  );
}

function Legend({
  crossing,
  view,
  onOpen,
}: {
  crossing?: Crossing | undefined;
  view: View;
  onOpen: () => void;
}) {
  return (
    <div className="legend">
      {view === "frames" ? (
        <>
          <span>
            <svg viewBox="0 0 24 12" aria-hidden="true">
              <rect className="d-cut" x="0.5" y="0.5" width="23" height="11" />
            </svg>
            cut away
          </span>
          <span>
            <svg viewBox="0 0 24 12" aria-hidden="true">
              <rect className="d-picture" x="0.5" y="0.5" width="23" height="11" />
              <rect className="d-edge" x="0.5" y="0.5" width="23" height="11" />
            </svg>
            kept
          </span>
          <span>
            <svg viewBox="0 0 24 12" aria-hidden="true">
              <rect className="d-bars" x="0.5" y="0.5" width="23" height="11" />
              <rect className="d-edge" x="0.5" y="0.5" width="23" height="11" />
            </svg>
            bars
          </span>
          <span>* own framing</span>
          <span>› from the source</span>
        </>
      ) : (
        <>
          <span>
            <svg viewBox="0 0 24 12" aria-hidden="true">
              <rect className="d-cut edged" x="0.5" y="0.5" width="11" height="11" />
            </svg>
            dropped source frame
          </span>
          <span>source frames above, delivered frames below</span>
        </>
      )}
      {crossing && view === "frames" && (
        <span role="status">
          <b>{methodName(crossing.method)}</b> is set on {SPEAKERS[crossing.speaker]}
        </span>
      )}
      <span className="ms-auto">⇧ and Ctrl select several · headings set rows and columns</span>
      <Button size="sm" disabled={!crossing} onClick={onOpen} {...keysOf("open")}>
        Open <Key of="open" />
      </Button>
    </div>
  );
}
