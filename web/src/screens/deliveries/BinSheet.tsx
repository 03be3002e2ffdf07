import { useQuery } from "@tanstack/react-query";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { BinGroup, Frame } from "../../api/client";
import { binQuery } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { count } from "../../drawing/numbers";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useMay } from "../../people/may";
import { useEdit } from "../../writes/useEdit";

/** How the bin suits a frame: by kind of clip, with one thing to do about each. */
export function BinSheet({ project, frame }: { project: number; frame: Frame }) {
  const { data: bin, error } = useQuery(binQuery(project, frame.id));
  const edit = useEdit(project);
  if (error) return <Notice className="m-3">{failureText(error)}</Notice>;
  if (!bin) return <p className="quiet p-3">Checking footage …</p>;
  return (
    <div className="scroll bin">
      <p className="px-3 mb-1">
        <b className="num">{bin.matching}</b> of <b className="num">{bin.sources}</b> sources match this
        frame.
        {bin.differing.length > 0 && (
          <span className="quiet">
            {" "}
            They differ in{" "}
            {bin.differing.map(([word, number], at) => (
              <span key={word as string}>
                {at > 0 && ", "}
                {word as string} <span className="num">({number as number})</span>
              </span>
            ))}
            .
          </span>
        )}
      </p>
      <ul className="bin-groups">
        {bin.groups.map((group) => (
          <li key={group.sources.join()}>
            <Group group={group} project={project} onEdit={edit} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Group({
  group,
  project,
  onEdit,
}: {
  group: BinGroup;
  project: number;
  onEdit: ReturnType<typeof useEdit>;
}) {
  const plans = useMay("plan");
  const { sources, words, differs, clean, caution, stop, remedy } = group;
  const states = [
    clean > 0 && (clean === sources.length ? "all clean" : `${clean} clean`),
    caution > 0 && (caution === sources.length && caution > 1 ? "all to check" : `${caution} to check`),
    stop > 0 && `${stop} blocking`,
  ].filter(Boolean);
  return (
    <>
      <SeverityMark severity={stop > 0 ? "stop" : caution > 0 ? "caution" : null} />
      <div className="what">
        <span>
          <b className="num">{sources.length}</b> {sources.length === 1 ? "clip" : "clips"}{" "}
          <span className="num">{words}</span>, {states.join(", ")}
        </span>
        <span className="quiet small">
          {differs.length > 0 ? `differs in ${differs.join(", ")}` : "matches"}
        </span>
      </div>
      <div className="do">
        {remedy && plans ? (
          <Button size="sm" onClick={() => onEdit(remedy.edit)}>
            {remedy.words}
          </Button>
        ) : (
          <Link
            className="btn btn-sm"
            to={`/projects/${project}/footage?source=${sources[0]}`}
            state={{ picked: sources }}
            aria-label={`Select ${count(sources.length, "clip")}: ${words}`}
          >
            Select {sources.length === 1 ? "it" : "them"}
          </Link>
        )}
      </div>
    </>
  );
}
