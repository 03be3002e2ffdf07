import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type HTMLAttributes, useRef } from "react";
import { Button, Table } from "react-bootstrap";
import { api, type Preview, type Source, type SourceShape, settled } from "../../api/client";
import { refreshProject, sourcePreview } from "../../api/queries";
import { count, raster, rate, ratio } from "../../drawing/numbers";
import { AddOrCancel, RecordSheet, useNewRecord, useRemoval } from "../../fields/RecordSheet";
import { useChosenRow } from "../../fields/useChosenRow";
import { useDraft } from "../../fields/useDraft";
import { useBoard } from "../../shell/ProjectLayout";
import { draftOf, NEW_SOURCE, type SourceDraft, valuesOf } from "./draft";
import { SourceDrawing } from "./SourceDrawing";
import { SourceFields } from "./SourceFields";

export function FootageScreen() {
  const { project, sources } = useBoard();
  const { chosen, choose, leave, body, row } = useChosenRow("source", sources);
  return (
    <main className="page">
      <div className="page-head">
        <h1>Footage</h1>
        <span className="quiet">{count(sources.length, "source")}, as stored and as seen</span>
        <div className="end">
          <Button variant="ink" onClick={() => choose("new")}>
            New source
          </Button>
        </div>
      </div>
      <div className="two-sheets">
        <section className="sheet" aria-label="Sources">
          <div className="scroll">
            <Table className="register" hover>
              <thead>
                <tr>
                  <th className="ps-3">source</th>
                  <th>stored</th>
                  <th>pixels</th>
                  <th>squeeze</th>
                  <th>turn</th>
                  <th>rate</th>
                  <th>shows</th>
                </tr>
              </thead>
              <tbody {...body}>
                {sources.map((source) => (
                  <SourceRow key={source.id} source={source} row={row(source)} />
                ))}
              </tbody>
            </Table>
            {sources.length === 0 && (
              <p className="quiet p-3">No footage yet. Describe the first source at the right.</p>
            )}
          </div>
        </section>
        {chosen ? (
          <SourceSheet key={chosen.id} source={chosen} project={project} onGone={leave} />
        ) : (
          <NewSource
            project={project.id}
            onAdded={choose}
            onCancel={sources.length > 0 ? leave : undefined}
          />
        )}
      </div>
    </main>
  );
}

function SourceRow({ source, row }: { source: Source; row: HTMLAttributes<HTMLTableRowElement> }) {
  const { name, note, geometry, rate: exactRate, scan } = source.values;
  const turn = { 0: "", 90: "90°", 180: "180°", 270: "270°" }[geometry.rotation] ?? "";
  return (
    <tr {...row}>
      <td className="ps-3 first">
        <b>{name}</b>
        {note && <div className="quiet small aside">{note}</div>}
      </td>
      <td className="num">{raster(geometry.raster)}</td>
      <td className="num">{geometry.pixel_aspect === "1" ? "" : geometry.pixel_aspect}</td>
      <td className="num">{geometry.squeeze === "1" ? "" : `${geometry.squeeze}×`}</td>
      <td className="num">{turn}</td>
      <td className="num">
        {rate(exactRate)}
        {scan === "interlaced" && <abbr title="interlaced"> i</abbr>}
      </td>
      <td className="num text-blue">{ratio(source.shape.upright.ratio.value)}</td>
    </tr>
  );
}

/** The shape of a draft, and the last good one while the draft is refused. */
function useShape(draft: SourceDraft, stored?: SourceShape) {
  const { data } = useQuery(sourcePreview(valuesOf(draft)));
  const lastGood = useRef<{ shape: SourceShape; draft: SourceDraft } | undefined>(
    stored && { shape: stored, draft },
  );
  const answer: Preview<SourceShape> | undefined = data;
  if (answer?.sound) lastGood.current = { shape: answer.value, draft };
  return { good: lastGood.current, problem: answer && !answer.sound ? answer.problem : undefined };
}

function DraftDrawing({ good }: { good?: { shape: SourceShape; draft: SourceDraft } }) {
  if (!good) return <div className="drawing-box" />;
  return (
    <SourceDrawing
      raster={[Number(good.draft.width), Number(good.draft.height)]}
      rotation={Number(good.draft.rotation)}
      shape={good.shape}
    />
  );
}

function SourceSheet({
  source,
  project,
  onGone,
}: {
  source: Source;
  project: { id: number; name: string };
  onGone: () => void;
}) {
  const client = useQueryClient();
  const path = { project: project.id, source: source.id };
  const refresh = () => refreshProject(client, project.id);
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: draftOf(source),
    version: source.version,
    refresh,
    save: async (draft, version) => {
      const saved = await settled(
        api.PUT("/api/v1/projects/{project}/sources/{source}", {
          params: { path, header: { "If-Match": String(version) } },
          body: valuesOf(draft),
        }),
      );
      await refresh();
      return saved.version;
    },
  });
  const { good, problem } = useShape(value, source.shape);
  const remove = useRemoval({
    name: source.values.name,
    refresh,
    onGone,
    remove: () =>
      settled(
        api.DELETE("/api/v1/projects/{project}/sources/{source}", {
          params: { path, header: { "If-Match": String(source.version) } },
        }),
      ),
    restore: () =>
      settled(api.POST("/api/v1/projects/{project}/sources/{source}/restore", { params: { path } })),
  });
  return (
    <RecordSheet
      kind="source"
      name={source.values.name}
      project={project.name}
      typed={typed !== null}
      onDelete={remove}
    >
      <DraftDrawing good={good} />
      <SourceFields draft={value} problem={refusal ?? problem} edit={edit} commit={commit} drop={drop} />
    </RecordSheet>
  );
}

function NewSource({
  project,
  onAdded,
  onCancel,
}: {
  project: number;
  onAdded: (id: number) => void;
  onCancel?: () => void;
}) {
  const client = useQueryClient();
  const { draft, refusal, edit, store } = useNewRecord(NEW_SOURCE, async (draft) => {
    const added = await settled(
      api.POST("/api/v1/projects/{project}/sources", {
        params: { path: { project } },
        body: valuesOf(draft),
      }),
    );
    await refreshProject(client, project);
    onAdded(added.id);
  });
  // A name is asked for only when the source is added.
  const { good, problem } = useShape({ ...draft, name: draft.name || "new" });
  return (
    <form
      className="sheet"
      aria-label="New source"
      onSubmit={(event) => {
        event.preventDefault();
        store();
      }}
    >
      <div className="sheet-head">
        <h2>New source</h2>
        <small>the drawing follows while you type</small>
      </div>
      <DraftDrawing good={good} />
      <SourceFields nameFirst draft={draft} problem={refusal ?? problem} edit={edit} />
      <AddOrCancel what="source" onCancel={onCancel} />
    </form>
  );
}
