import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useRef, useState } from "react";
import { Button, Table } from "react-bootstrap";
import { useSearchParams } from "react-router";
import { api, type Frame, type FrameShape, settled } from "../../api/client";
import { framePreview, refreshProject } from "../../api/queries";
import { Silhouette } from "../../drawing/crossing";
import { count, raster, ratio } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { useDraft } from "../../fields/useDraft";
import { methodName } from "../../shell/methods";
import { useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { draftOf, valuesOf } from "./draft";
import { FrameFields } from "./FrameFields";
import { NewFrame, ShapeLine } from "./NewFrame";
import { Silhouettes } from "./Silhouettes";

export function DeliveriesScreen() {
  const { project, frames } = useBoard();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get("frame");
  const adding = wanted === "new" || frames.length === 0;
  const selected = adding ? undefined : (frames.find((each) => String(each.id) === wanted) ?? frames[0]);
  const select = (frame: string) => setSearch({ frame }, { replace: true });
  const rows = useRef<HTMLTableSectionElement>(null);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    const next = selected && step ? frames[frames.indexOf(selected) + step] : undefined;
    if (!next) return;
    event.preventDefault();
    select(String(next.id));
    rows.current?.querySelector<HTMLElement>(`[data-id="${next.id}"]`)?.focus();
  };
  return (
    <main className="page">
      <div className="page-head">
        <h1>Deliveries</h1>
        <span className="quiet">{count(frames.length, "frame")} to deliver, at one scale</span>
        <div className="end">
          <Button variant="ink" onClick={() => select("new")}>
            New frame
          </Button>
        </div>
      </div>
      {frames.length > 0 && (
        <section className="sheet silhouettes" aria-label="Silhouettes">
          <Silhouettes frames={frames} selected={selected} onSelect={(frame) => select(String(frame.id))} />
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
              <tbody ref={rows} onKeyDown={onKeyDown}>
                {frames.map((frame) => (
                  <tr
                    key={frame.id}
                    data-id={frame.id}
                    tabIndex={frame === selected ? 0 : -1}
                    aria-selected={frame === selected}
                    onClick={() => select(String(frame.id))}
                    onFocus={() => select(String(frame.id))}
                  >
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
                    <td className="num">{frame.values.rate}</td>
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
        {selected ? (
          <FrameSheet key={selected.id} frame={selected} project={project} onGone={() => setSearch({})} />
        ) : (
          <NewFrame
            project={project.id}
            onAdded={(id) => select(String(id))}
            onCancel={frames.length > 0 ? () => setSearch({}) : undefined}
          />
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
  const { tell, tellFailure } = useNotices();
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
  const restore = async () => {
    try {
      await settled(api.POST("/api/v1/projects/{project}/frames/{frame}/restore", { params: { path } }));
    } catch (error) {
      tellFailure("Not restored", error);
    }
    refresh();
  };
  const remove = async () => {
    try {
      await settled(
        api.DELETE("/api/v1/projects/{project}/frames/{frame}", {
          params: { path, header: { "If-Match": String(frame.version) } },
        }),
      );
      tell(`“${frame.values.name}” is deleted.`, { label: "Undo", run: restore });
      onGone();
    } catch (error) {
      tellFailure("Not deleted", error);
    }
    refresh();
  };
  return (
    <section className="sheet" aria-label={`Frame ${frame.values.name}`}>
      <div className="sheet-head">
        <h2>{frame.values.name}</h2>
        <small>
          {typed ? "being edited: Enter keeps, Escape drops" : "every value edits where it stands"}
        </small>
        <Button size="sm" className="end" onClick={remove}>
          Delete
        </Button>
      </div>
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
      <TitleBlock
        entries={[
          ["project", project.name],
          ["frame", frame.values.name],
        ]}
      />
    </section>
  );
}
