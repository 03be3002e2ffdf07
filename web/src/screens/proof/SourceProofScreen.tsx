import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-bootstrap";
import { useNavigate, useParams } from "react-router";
import { aloneQuery } from "../../api/queries";
import { count } from "../../drawing/numbers";
import { NoSource } from "../../notices/NoSource";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { useEdit } from "../../writes/useEdit";
import { NoPicture } from "./NoPicture";
import { Proof } from "./Proof";
import { boxOf } from "./proved";

/** How large a source is carried out by itself, in percent. */
const SIZES = [50, 100, 150, 200, 300, 400];

/** The proof of the source in the address, by itself: upright, in square pixels, before there is any frame for it. */
export default function SourceProofScreen() {
  const { project, sources, frames } = useBoard();
  const params = useParams();
  const navigate = useNavigate();
  const edit = useEdit(project.id);
  const [percent, setPercent] = useState(100);
  const source = sources.find((each) => String(each.id) === params.source);
  const key = { project: project.id, source: Number(params.source), percent };
  const { data: alone, error } = useQuery({
    ...aloneQuery(key),
    enabled: Boolean(source),
    placeholderData: (before) => before,
  });
  const footage = `/projects/${project.id}/footage`;
  if (!source) return <NoSource footage={footage} />;
  const up = { to: `${footage}?source=${source.id}`, name: source.values.name };
  if (!source.picture)
    return (
      <NoPicture project={project.id} source={source} back={{ to: up.to, name: "Back to the footage" }} />
    );
  const sizes = (
    <Form.Select
      size="sm"
      className="against"
      aria-label="How large"
      value={percent}
      onChange={({ target }) => setPercent(Number(target.value))}
    >
      {SIZES.map((each) => (
        <option key={each} value={each}>
          {each === 100 ? "at its own size" : `at ${each} % of its size`}
        </option>
      ))}
    </Form.Select>
  );
  if (!alone || error)
    return (
      <main className="page" id="main">
        {error ? (
          <Notice role="alert">
            <span>{failureText(error)}</span>
            {sizes}
          </Notice>
        ) : (
          <p role="status">Calculating …</p>
        )}
      </main>
    );
  const [width = 1, height = 1] = alone.raster;
  return (
    <Proof
      key={source.id}
      proved={{
        source,
        name: source.values.name,
        up,
        key: { ...key, percent: alone.percent },
        planned: `${source.version}-${source.picture}`,
        raster: alone.raster,
        area: { x: 0, y: 0, width, height },
        image: boxOf(alone.image),
        scale: alone.scale,
        taken: undefined,
        take: (how) =>
          void edit({
            edit: "set_resampling",
            conversions: frames.map((frame) => [source.id, frame.id]),
            taken: { ...how },
          }),
        taking:
          frames.length > 0
            ? {
                button: `Take it into ${count(frames.length, "frame")}`,
                tip: "Outcomes and recipes of this source are worked out like this in every frame, and the sheets say so",
              }
            : { button: "", tip: "" },
        framed: false,
        tools: sizes,
        step: (by) => {
          const pictured = sources.filter(({ picture }) => picture);
          const to = pictured[pictured.indexOf(source) + by];
          if (to) void navigate(`${footage}/${to.id}/proof`);
        },
        steps: ["previousSource", "nextSource"],
      }}
    />
  );
}
