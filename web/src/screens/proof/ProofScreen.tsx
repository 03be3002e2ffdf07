import { useQuery } from "@tanstack/react-query";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { Refused } from "../../api/client";
import { conversionQuery } from "../../api/queries";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { useEdit } from "../../writes/useEdit";
import { Proof } from "./Proof";

/** The proof of the conversion in the address: carried out, compared, measured. */
export default function ProofScreen() {
  const { project, sources, frames } = useBoard();
  const params = useParams();
  const navigate = useNavigate();
  const edit = useEdit(project.id);
  const source = sources.find((each) => String(each.id) === params.source);
  const frame = frames.find((each) => String(each.id) === params.frame);
  const path = { project: project.id, source: Number(params.source), frame: Number(params.frame) };
  const { data: conversion, error } = useQuery({
    ...conversionQuery(path),
    enabled: Boolean(source && frame),
  });
  const board = `/projects/${project.id}/board`;
  if (!source || !frame || (error instanceof Refused && !conversion)) {
    return (
      <main className="page" id="main">
        <Notice role="alert">
          <span>
            {error
              ? failureText(error)
              : "This conversion no longer exists: its source or its frame was deleted."}
          </span>
          <Link to={board}>Back to the board</Link>
        </Notice>
      </main>
    );
  }
  if (!source.picture) {
    return (
      <main className="page" id="main">
        <Notice>
          <span>
            {source.values.name} has no picture yet, so there is nothing to carry out. Choose a still in{" "}
            <Link to={`/projects/${project.id}/footage?source=${source.id}`}>Footage</Link>, or take the chart
            of the test camera.
          </span>
          <Button
            size="sm"
            onClick={() =>
              edit({
                edit: "set_sources",
                sources: [source.id],
                set: { still: { scene: "chart", file: "" } },
              })
            }
          >
            Use the chart
          </Button>
          <Link to={`${board}/${source.id}/${frame.id}`}>Back to the framing</Link>
        </Notice>
      </main>
    );
  }
  if (!conversion)
    return (
      <main className="page" id="main">
        {error ? <Notice role="alert">{failureText(error)}</Notice> : <p role="status">Calculating …</p>}
      </main>
    );
  const frameBy = (by: number) => {
    const to = frames[frames.indexOf(frame) + by];
    if (to) void navigate(`${board}/${source.id}/${to.id}/proof`);
  };
  return (
    <Proof
      key={`${source.id}-${frame.id}`}
      source={source}
      frame={frame}
      conversion={conversion}
      frameBy={frameBy}
    />
  );
}
