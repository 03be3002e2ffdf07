import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import {
  api,
  type Edit,
  type Frame,
  type Preview,
  type Source,
  type SourceShape,
  settled,
} from "../../api/client";
import { refreshProject, sourcePreview } from "../../api/queries";
import { usePicture } from "../../drawing/picture";
import { WouldFollow } from "../../fields/Follows";
import { AddOrCancel, RecordSheet, useNewRecord } from "../../fields/RecordSheet";
import { rasterOf } from "../../fields/sides";
import {
  draftOf,
  GEOMETRY_PARTS,
  NEW_SOURCE,
  type SourceDraft,
  subjectOf,
  valuesOf,
} from "../../fields/sourceDraft";
import { useDraft } from "../../fields/useDraft";
import { Key, keysOf } from "../../keys/Key";
import { Fixed, For } from "../../people/may";
import { useTreatment } from "../../shell/treatment";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { useWrite } from "../../writes/useWrite";
import { ActivePictureTools } from "./ActivePictureTools";
import { FramesFromSource } from "./FramesFromSource";
import { Origin } from "./Origin";
import { SourceDrawing } from "./SourceDrawing";
import { SourceFields } from "./SourceFields";
import { StillTools } from "./StillTools";
import { GiveTreatment } from "./Treatment";

/** The change of the raster that is being typed; nothing where that stays as it is. */
function resized(typed: Partial<SourceDraft> | null, draft: SourceDraft, source: number): Edit | null {
  if (!typed || !("width" in typed || "height" in typed)) return null;
  return { edit: "set_sources", sources: [source], set: { raster: valuesOf(draft).geometry.raster } };
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

interface Drawn {
  good?: { shape: SourceShape; draft: SourceDraft } | undefined;
  /** Where its pictures are, as stored and upright, while nothing else is typed. */
  pictures?: { stored: string | undefined; upright: string | undefined } | undefined;
}

function DraftDrawing({ good, pictures }: Drawn) {
  if (!good) return <div className="drawing-box" />;
  return (
    <SourceDrawing
      pictures={pictures}
      raster={rasterOf(good.draft)}
      rotation={Number(good.draft.rotation)}
      shape={good.shape}
      subject={subjectOf(good.draft.subject)}
    />
  );
}

interface Props {
  source: Source;
  project: { id: number; name: string };
  /** The frames of the project. */
  frames: Frame[];
  onGone: () => void;
}

/** One source: its drawing, its values, its active picture. */
export function SourceSheet({ source, project, frames, onGone }: Props) {
  const client = useQueryClient();
  const change = useEdit(project.id);
  const write = useWrite(["project", project.id]);
  const [treatment, setTreatment] = useTreatment();
  const path = { project: project.id, source: source.id };
  const refresh = () => refreshProject(client, project.id);
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: draftOf(source),
    version: source.version,
    read: (record) => draftOf(record as Source),
    refresh,
    save: async (draft, version) => {
      const saved = await write(() =>
        settled(
          api.PUT("/api/v1/projects/{project}/sources/{source}", {
            params: { path, header: { "If-Match": `"${version}"` } },
            body: valuesOf(draft),
          }),
        ),
      );
      await refresh();
      return saved.version;
    },
  });
  const { good, problem } = useShape(value, source.shape);
  const pictures = {
    stored: usePicture(source, 1280, "stored"),
    upright: usePicture(source, 1280),
  };
  const remove = async () => {
    const { done } = await change({ edit: "delete", sources: [source.id], frames: [] });
    if (done) onGone();
  };
  const taken = treatment?.of === "source" && treatment.name === source.values.name;
  return (
    <RecordSheet
      kind="source"
      name={source.values.name}
      project={project.name}
      typed={typed !== null}
      onDelete={remove}
      tools={
        <For may="plan">
          <Button
            size="sm"
            active={taken}
            aria-pressed={taken}
            {...keysOf("copySettings")}
            {...tip("Copy its squeeze, pixel aspect, insets and so on, to apply them to other sources")}
            onClick={() =>
              setTreatment({
                of: "source",
                name: source.values.name,
                parts: GEOMETRY_PARTS,
                values: source.values,
              })
            }
          >
            Copy settings <Key of="copySettings" />
          </Button>
        </For>
      }
    >
      <DraftDrawing good={good} pictures={typed ? undefined : pictures} />
      <div className="scroll">
        <Fixed may="plan">
          <SourceFields draft={value} problem={refusal ?? problem} edit={edit} commit={commit} drop={drop} />
        </Fixed>
        <Origin source={source} />
        <SphereLink project={project.id} source={source} />
        <WouldFollow project={project.id} edit={resized(typed, value, source.id)} />
        <For may="plan">{!taken && <GiveTreatment project={project.id} picked={[source]} />}</For>
        <StillTools project={project.id} picked={[source]} />
        <For may="plan">
          <ActivePictureTools project={project.id} picked={[source]} />
          <FramesFromSource project={project.id} source={source} frames={frames} />
        </For>
      </div>
    </RecordSheet>
  );
}

/** To the sphere itself, or to the one that a view looks out of. */
function SphereLink({ project, source }: { project: number; source: Source }) {
  const { projection, view } = source.values;
  const sphere = projection === "sphere" ? source.id : view?.sphere;
  if (sphere === undefined) return null;
  return (
    <p className="mb-2">
      <Link className="btn btn-sm" to={`/projects/${project}/footage/${sphere}/sphere`}>
        {view ? "Open the sphere of this view" : "Open the sphere"}
      </Link>{" "}
      <span className="quiet small">
        {view ? "where this view looks, how wide it is" : "level it, turn it, look out of it"}
      </span>
    </p>
  );
}

interface NewProps {
  project: number;
  onAdded: (id: number) => void;
  onCancel?: (() => void) | undefined;
}

/** A source described by hand; the drawing answers while it is typed. */
export function NewSource({ project, onAdded, onCancel }: NewProps) {
  const client = useQueryClient();
  const write = useWrite(["project", project]);
  const { draft, refusal, edit, store, pending } = useNewRecord(NEW_SOURCE, async (draft) => {
    const added = await write(() =>
      settled(
        api.POST("/api/v1/projects/{project}/sources", {
          params: { path: { project } },
          body: valuesOf(draft),
        }),
      ),
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
        void store();
      }}
    >
      <div className="sheet-head">
        <h2>New source</h2>
        <small>the drawing follows as you type</small>
      </div>
      <DraftDrawing good={good} />
      <div className="scroll">
        <SourceFields nameFirst draft={draft} problem={refusal ?? problem} edit={edit} />
      </div>
      <AddOrCancel what="source" pending={pending} onCancel={onCancel} />
    </form>
  );
}
