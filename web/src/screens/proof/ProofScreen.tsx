import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "react-router";
import { Refused } from "../../api/client";
import { conversionQuery } from "../../api/queries";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { useEdit } from "../../writes/useEdit";
import { NoPicture } from "./NoPicture";
import { Proof } from "./Proof";
import { boxOf } from "./proved";

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
  const framing = `${board}/${source.id}/${frame.id}`;
  if (!source.picture)
    return (
      <NoPicture project={project.id} source={source} back={{ to: framing, name: "Back to the framing" }} />
    );
  if (!conversion)
    return (
      <main className="page" id="main">
        {error ? <Notice role="alert">{failureText(error)}</Notice> : <p role="status">Calculating …</p>}
      </main>
    );
  const name = `${source.values.name} into ${frame.values.name}`;
  return (
    <Proof
      key={`${source.id}-${frame.id}`}
      proved={{
        source,
        name,
        up: { to: framing, name },
        key: { project: project.id, source: source.id, frame: frame.id },
        planned: `${conversion.version}-${source.version}-${frame.version}`,
        raster: frame.values.geometry.raster,
        area: frame.shape.picture_area,
        image: boxOf(conversion.plan.image),
        scale: conversion.plan.scale,
        taken: conversion.choice.taken,
        take: (how) =>
          void edit({ edit: "set_resampling", conversions: [[source.id, frame.id]], taken: { ...how } }),
        taking: {
          button: "Take it",
          tip: "Outcomes and recipes are worked out like this, and the sheets say so",
        },
        framed: true,
        step: (by) => {
          const to = frames[frames.indexOf(frame) + by];
          if (to) void navigate(`${board}/${source.id}/${to.id}/proof`);
        },
        steps: ["previousFrame", "nextFrame"],
      }}
    />
  );
}
