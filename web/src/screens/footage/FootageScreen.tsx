import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useRef, useState } from "react";
import { Button, Table } from "react-bootstrap";
import { useSearchParams } from "react-router";
import {
  api,
  type Preview,
  type Problem,
  Refused,
  type Source,
  type SourceShape,
  settled,
} from "../../api/client";
import { refreshProject, sourcePreview } from "../../api/queries";
import { count, raster, ratio } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { useDraft } from "../../fields/useDraft";
import { useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { draftOf, NEW_SOURCE, type SourceDraft, valuesOf } from "./draft";
import { SourceDrawing } from "./SourceDrawing";
import { SourceFields } from "./SourceFields";

export function FootageScreen() {
  const { project, sources } = useBoard();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get("source");
  const adding = wanted === "new" || sources.length === 0;
  const selected = adding ? undefined : (sources.find((each) => String(each.id) === wanted) ?? sources[0]);
  const select = (source: string) => setSearch({ source }, { replace: true });
  const rows = useRef<HTMLTableSectionElement>(null);

  const onKeyDown = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    const next = selected && step ? sources[sources.indexOf(selected) + step] : undefined;
    if (!next) return;
    event.preventDefault();
    select(String(next.id));
    rows.current?.querySelector<HTMLElement>(`[data-id="${next.id}"]`)?.focus();
  };

  return (
    <main className="page">
      <div className="page-head">
        <h1>Footage</h1>
        <span className="quiet">{count(sources.length, "source")}, as stored and as seen</span>
        <div className="end">
          <Button variant="ink" onClick={() => select("new")}>
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
              <tbody ref={rows} onKeyDown={onKeyDown}>
                {sources.map((source) => (
                  <SourceRow
                    key={source.id}
                    source={source}
                    selected={source === selected}
                    onSelect={() => select(String(source.id))}
                  />
                ))}
              </tbody>
            </Table>
            {sources.length === 0 && (
              <p className="quiet p-3">No footage yet. Describe the first source at the right.</p>
            )}
          </div>
        </section>
        {selected ? (
          <SourceSheet key={selected.id} source={selected} project={project} onGone={() => setSearch({})} />
        ) : (
          <NewSource
            project={project.id}
            onAdded={(id) => select(String(id))}
            onCancel={sources.length > 0 ? () => setSearch({}) : undefined}
          />
        )}
      </div>
    </main>
  );
}

function SourceRow({
  source,
  selected,
  onSelect,
}: {
  source: Source;
  selected: boolean;
  onSelect: () => void;
}) {
  const { name, note, geometry, rate, scan } = source.values;
  const turn = { 0: "", 90: "90°", 180: "180°", 270: "270°" }[geometry.rotation] ?? "";
  return (
    <tr
      data-id={source.id}
      tabIndex={selected ? 0 : -1}
      aria-selected={selected}
      onClick={onSelect}
      onFocus={onSelect}
    >
      <td className="ps-3 first">
        <b>{name}</b>
        {note && <div className="quiet small aside">{note}</div>}
      </td>
      <td className="num">{raster(geometry.raster)}</td>
      <td className="num">{geometry.pixel_aspect === "1" ? "" : geometry.pixel_aspect}</td>
      <td className="num">{geometry.squeeze === "1" ? "" : `${geometry.squeeze}×`}</td>
      <td className="num">{turn}</td>
      <td className="num">
        {rate}
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
  const { tell, tellFailure } = useNotices();
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
  const restore = async () => {
    try {
      await settled(api.POST("/api/v1/projects/{project}/sources/{source}/restore", { params: { path } }));
    } catch (error) {
      tellFailure("Not restored", error);
    }
    refresh();
  };
  const remove = async () => {
    try {
      await settled(
        api.DELETE("/api/v1/projects/{project}/sources/{source}", {
          params: { path, header: { "If-Match": String(source.version) } },
        }),
      );
      tell(`“${source.values.name}” is deleted.`, { label: "Undo", run: restore });
      onGone();
    } catch (error) {
      tellFailure("Not deleted", error);
    }
    refresh();
  };
  return (
    <section className="sheet" aria-label={`Source ${source.values.name}`}>
      <div className="sheet-head">
        <h2>{source.values.name}</h2>
        <small>
          {typed ? "being edited: Enter keeps, Escape drops" : "every value edits where it stands"}
        </small>
        <Button size="sm" className="end" onClick={remove}>
          Delete
        </Button>
      </div>
      <DraftDrawing good={good} />
      <SourceFields draft={value} problem={refusal ?? problem} edit={edit} commit={commit} drop={drop} />
      <TitleBlock
        entries={[
          ["project", project.name],
          ["source", source.values.name],
        ]}
      />
    </section>
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
  const { tellFailure } = useNotices();
  const [draft, setDraft] = useState(NEW_SOURCE);
  const [refusal, setRefusal] = useState<Problem>();
  // A name is asked for only when the source is added.
  const { good, problem } = useShape({ ...draft, name: draft.name || "new" });
  const add = async () => {
    try {
      const added = await settled(
        api.POST("/api/v1/projects/{project}/sources", {
          params: { path: { project } },
          body: valuesOf(draft),
        }),
      );
      await refreshProject(client, project);
      onAdded(added.id);
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 422) setRefusal(error.problem);
      else tellFailure("The source was not added", error);
    }
  };
  return (
    <form
      className="sheet"
      aria-label="New source"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <div className="sheet-head">
        <h2>New source</h2>
        <small>the drawing follows while you type</small>
      </div>
      <DraftDrawing good={good} />
      <SourceFields
        nameFirst
        draft={draft}
        problem={refusal ?? problem}
        edit={(part) => {
          setDraft((now) => ({ ...now, ...part }));
          setRefusal(undefined);
        }}
      />
      <div className="d-flex gap-2 p-3 pt-0">
        <Button type="submit" variant="ink">
          Add the source
        </Button>
        {onCancel && <Button onClick={onCancel}>Cancel</Button>}
      </div>
    </form>
  );
}
