import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Table } from "react-bootstrap";
import { api, type Frame, type FrameShape, settled } from "../../api/client";
import { framePreview, refreshProject } from "../../api/queries";
import { Silhouette } from "../../drawing/crossing";
import { count, raster, rate, ratio } from "../../drawing/numbers";
import { RecordSheet, useRemoval } from "../../fields/RecordSheet";
import { useChosenRow } from "../../fields/useChosenRow";
import { useDraft } from "../../fields/useDraft";
import { methodName } from "../../shell/methods";
import { useBoard } from "../../shell/ProjectLayout";
import { draftOf, valuesOf } from "./draft";
import { FrameFields } from "./FrameFields";
import { NewFrame, ShapeLine } from "./NewFrame";
import { Silhouettes } from "./Silhouettes";

export function DeliveriesScreen() {
  const { project, frames } = useBoard();
  const { chosen, choose, leave, body, row } = useChosenRow("frame", frames);
  return (
    <main className="page">
      <div className="page-head">
        <h1>Deliveries</h1>
        <span className="quiet">{count(frames.length, "frame")} to deliver, at one scale</span>
        <div className="end">
          <Button variant="ink" onClick={() => choose("new")}>
            New frame
          </Button>
        </div>
      </div>
      {frames.length > 0 && (
        <section className="sheet silhouettes" aria-label="Silhouettes">
          <Silhouettes frames={frames} selected={chosen} onSelect={(frame) => choose(frame.id)} />
        </section>
      )}
      <div className="two-sheets">
        <section className="sheet" aria-label="Frames">
          <div className="scroll">
            <Table className="register" hover>
              <thead>
                <tr>
                  <th className="ps-3">
                    <span className="visually-hidden">shape</span>
                  </th>
                  <th>frame</th>
                  <th>raster</th>
                  <th>shows</th>
                  <th>picture</th>
                  <th>rate</th>
                  <th>method</th>
                </tr>
              </thead>
              <tbody {...body}>
                {frames.map((frame) => (
                  <tr key={frame.id} {...row(frame)}>
                    <td className="ps-3">
                      <Silhouette frame={frame} width={36} height={26} />
                    </td>
                    <td>
                      <b>{frame.values.name}</b>
                      {frame.values.note && <div className="quiet small">{frame.values.note}</div>}
                    </td>
                    <td className="num">{raster(frame.values.geometry.raster)}</td>
                    <td className="num text-blue">{ratio(frame.shape.ratio.value)}</td>
                    <td className="num">
                      {frame.values.geometry.picture_ratio
                        ? `${raster([frame.shape.picture_area.width, frame.shape.picture_area.height])}`
                        : "all"}
                    </td>
                    <td className="num">{rate(frame.values.rate)}</td>
                    <td>{methodName(frame.values.default_method)}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
            {frames.length === 0 && (
              <p className="quiet p-3">No frame yet. Describe the first one at the right.</p>
            )}
          </div>
        </section>
        {chosen ? (
          <FrameSheet key={chosen.id} frame={chosen} project={project} onGone={leave} />
        ) : (
          <NewFrame project={project.id} onAdded={choose} onCancel={frames.length > 0 ? leave : undefined} />
        )}
      </div>
    </main>
  );
}

function FrameSheet({
  frame,
  project,
  onGone,
}: {
  frame: Frame;
  project: { id: number; name: string };
  onGone: () => void;
}) {
  const client = useQueryClient();
  const path = { project: project.id, frame: frame.id };
  const refresh = () => refreshProject(client, project.id);
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: draftOf(frame),
    version: frame.version,
    refresh,
    save: async (draft, version) => {
      const saved = await settled(
        api.PUT("/api/v1/projects/{project}/frames/{frame}", {
          params: { path, header: { "If-Match": String(version) } },
          body: valuesOf(draft),
        }),
      );
      await refresh();
      return saved.version;
    },
  });
  const { data } = useQuery(framePreview(valuesOf(value)));
  const [lastGood, setLastGood] = useState<FrameShape>(frame.shape);
  const shape = data?.sound ? data.value : lastGood;
  if (shape !== lastGood) setLastGood(shape);
  const remove = useRemoval({
    name: frame.values.name,
    refresh,
    onGone,
    remove: () =>
      settled(
        api.DELETE("/api/v1/projects/{project}/frames/{frame}", {
          params: { path, header: { "If-Match": String(frame.version) } },
        }),
      ),
    restore: () =>
      settled(api.POST("/api/v1/projects/{project}/frames/{frame}/restore", { params: { path } })),
  });
  return (
    <RecordSheet
      kind="frame"
      name={frame.values.name}
      project={project.name}
      typed={typed !== null}
      onDelete={remove}
    >
      <div className="scroll">
        <FrameFields
          draft={value}
          problem={refusal ?? (data && !data.sound ? data.problem : undefined)}
          edit={edit}
          commit={commit}
          drop={drop}
        />
        <ShapeLine shape={shape} />
      </div>
    </RecordSheet>
  );
}
