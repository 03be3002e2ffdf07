import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Board, Crossing, Point, PointRemedy } from "../../api/client";
import { crossingAt, remediesQuery } from "../../api/queries";
import { keepsPictures, PicturedCrossing } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { count } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { HelpWith } from "../../manual/HelpWith";
import { For } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { useOnce } from "../../writes/useOnce";

/** So many conversions are drawn; the others are named. */
const DRAWN = 12;

interface Props {
  project: number;
  point: Point;
}

/** One point: who is affected, what helps for all at once, and accepting it. */
export function PointSheet({ project, point }: Props) {
  const board = useBoard();
  const edit = useEdit(project);
  const [reason, setReason] = useState("");
  const { code, title, detail, conversions, open } = point;
  const first = board.sources.find(({ id }) => id === conversions[0]?.[0]);
  // What is wrong with the sphere of a view is put right at the sphere.
  const ofView = code === "sphere_cut" ? first?.values.view : undefined;
  const { data: remedies } = useQuery({ ...remediesQuery(project, point.key), enabled: open > 0 });
  const judge = useOnce((reason: string | null) =>
    edit({ edit: "judge_finding", conversions: conversions as [number, number][], code, reason }),
  );
  const accept = (event: FormEvent) => {
    event.preventDefault();
    if (reason.trim()) void judge.run(reason.trim());
  };
  return (
    <section className="sheet point-sheet" aria-label={title}>
      <div className="sheet-head">
        <h2>{title}</h2>
        <div className="end">
          <HelpWith id={`finding/${code}`} />
        </div>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it may be longer than its room, and keys scroll it */}
      <div className="scroll px-3" tabIndex={0}>
        <p className="mb-2">{detail}</p>
        {open > 0 ? (
          <>
            <h3>What helps</h3>
            {remedies?.map((remedy) => (
              <Remedy
                key={remedy.words}
                board={board}
                remedy={remedy}
                of={conversions.length}
                onTake={() => edit(remedy.edit)}
              />
            ))}
            {code === "projection" && <FlatView board={board} project={project} point={point} />}
            {ofView && (
              <p>
                <Link to={`/projects/${project}/footage?source=${ofView.sphere}`}>Set it at the sphere</Link>{" "}
                that the view looks out of: without insets, as stored.
              </p>
            )}
            {remedies?.length === 0 && code !== "projection" && !ofView && (
              <p className="quiet">Nothing helps all of them at once. Open a conversion below.</p>
            )}
            <For may="plan">
              <form className="accept-all" onSubmit={accept}>
                <Field
                  label="or accept it, because"
                  value={reason}
                  onText={setReason}
                  className="flex-grow-1"
                />
                <Button type="submit" disabled={!reason.trim()} aria-disabled={judge.pending}>
                  Accept for {count(conversions.length, "conversion")}
                </Button>
              </form>
            </For>
          </>
        ) : (
          <p>
            Accepted: {point.reason}{" "}
            <For may="plan">
              <Button size="sm" aria-disabled={judge.pending} onClick={() => judge.run(null)}>
                Reopen
              </Button>
            </For>
          </p>
        )}
        <h3>Who is affected</h3>
        <Affected board={board} project={project} conversions={conversions} />
      </div>
    </section>
  );
}

/** The parties of a conversion, with how it stands on the board. */
function parties(board: Board, source: number, frame: number) {
  const row = board.sources.findIndex(({ id }) => id === source);
  const column = board.frames.findIndex(({ id }) => id === frame);
  return {
    source: board.sources[row],
    frame: board.frames[column],
    crossing: crossingAt(board, row, column),
  };
}

function Affected({
  board,
  project,
  conversions,
}: {
  board: Board;
  project: number;
  conversions: Point["conversions"];
}) {
  return (
    <>
      <ul className="affected">
        {conversions.slice(0, DRAWN).map(([s = 0, f = 0]) => {
          const { source, frame, crossing } = parties(board, s, f);
          return (
            source &&
            frame &&
            crossing && (
              <li key={`${s} ${f}`}>
                <Link to={`/projects/${project}/board/${s}/${f}`}>
                  <PicturedCrossing
                    source={source}
                    crossing={crossing}
                    frame={frame}
                    width={84}
                    height={48}
                  />
                  <span>{source.values.name}</span>
                  <small>{frame.values.name}</small>
                </Link>
              </li>
            )
          );
        })}
      </ul>
      {conversions.length > DRAWN && (
        <p className="small">
          And{" "}
          {conversions.slice(DRAWN).map(([s = 0, f = 0], at) => {
            const { source, frame } = parties(board, s, f);
            return (
              <span key={`${s} ${f}`}>
                {at > 0 && ", "}
                <Link to={`/projects/${project}/board/${s}/${f}`}>
                  {source?.values.name} into {frame?.values.name}
                </Link>
              </span>
            );
          })}
        </p>
      )}
    </>
  );
}

interface RemedyProps {
  board: Board;
  remedy: PointRemedy;
  of: number;
  onTake: () => Promise<unknown>;
}

/** What would come of a remedy, drawn before it is taken. */
function Remedy({ board, remedy, of, onTake }: RemedyProps) {
  const take = useOnce(onTake);
  const { words, solves, after } = remedy;
  const changed = after.filter((now) => {
    const { crossing } = parties(board, now.source, now.frame);
    return crossing && JSON.stringify(crossing.image) !== JSON.stringify(now.image);
  });
  return (
    <div className="remedy">
      <div>
        <b>{words}</b>
        <small>
          solves {solves === of ? (of === 1 ? "it" : `all ${of}`) : `${solves} of ${of}`}
          {changed.length === 0 && "; no picture moves"}
        </small>
        {changed.length > 0 && (
          <Outcomes board={board} after={changed.slice(0, 4)} pictured={keepsPictures(remedy.edit)} />
        )}
      </div>
      <For may="plan">
        <Button
          size="sm"
          aria-label={`Apply: ${words}`}
          aria-disabled={take.pending}
          onClick={() => take.run()}
        >
          Apply
        </Button>
      </For>
    </div>
  );
}

interface OutcomesProps {
  board: Board;
  after: readonly Crossing[];
  /** Whether the pictures of the sources stay as they are. */
  pictured: boolean;
}

/** How large outcomes are drawn, in pixels. */
const OUTCOME = { width: 72, height: 50 };

function Outcomes({ board, after, pictured }: OutcomesProps) {
  return (
    <div className="outcomes">
      {after.map((now) => {
        const { frame, crossing, source } = parties(board, now.source, now.frame);
        return (
          frame &&
          crossing && (
            <span
              key={`${now.source} ${now.frame}`}
              {...tip(`${source?.values.name} into ${frame.values.name}`)}
            >
              <PicturedCrossing source={source} crossing={crossing} frame={frame} {...OUTCOME} />
              →
              <PicturedCrossing
                source={pictured ? source : undefined}
                crossing={now}
                frame={frame}
                {...OUTCOME}
              />
              <SeverityMark severity={now.severity} size={9} />
            </span>
          )
        );
      })}
    </div>
  );
}

/** The way out of a sphere: a flat view, asked on the slide rule for the sizes at hand. */
function FlatView({ board, project, point }: { board: Board; project: number; point: Point }) {
  const [[s = 0, f = 0] = []] = point.conversions;
  const { source, frame } = parties(board, s, f);
  if (!source || !frame) return null;
  if (source.values.projection !== "sphere")
    return (
      <p>
        <Link to="/slide-rule?of=place">Place a flat picture on the sphere</Link> on the slide rule, or leave
        the frame to spheres and <Link to={`/projects/${project}/deliveries`}>set it to flat</Link>.
      </p>
    );
  return (
    <p>
      <Link to={`/projects/${project}/footage/${source.id}/sphere`}>
        Take a flat view out of {source.values.name}
      </Link>
      : it is a source like any other, and {frame.values.name} is framed from it.
    </p>
  );
}
