import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { api, type Edit, type Frame, type FrameShape, settled } from "../../api/client";
import { framePreview, refreshProject } from "../../api/queries";
import { WouldFollow } from "../../fields/Follows";
import { draftOf, type FrameDraft, valuesOf } from "../../fields/frameDraft";
import { RecordSheet } from "../../fields/RecordSheet";
import { useDraft } from "../../fields/useDraft";
import { Fixed, For } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { useWrite } from "../../writes/useWrite";
import { BinSheet } from "./BinSheet";
import { FileSheet } from "./FileSheet";
import { FrameFields } from "./FrameFields";
import { KeepInHouse } from "./KeepInHouse";
import { ShapeLine } from "./NewFrame";
import { ScreensSheet } from "./ScreensSheet";

/** The change of the geometry that is being typed; nothing where that stays as it is. */
function reshaped(typed: Partial<FrameDraft> | null, draft: FrameDraft, frame: number): Edit | null {
  const touched = ["width", "height", "pixelAspect", "pictureRatio"].some((key) => typed && key in typed);
  if (!touched) return null;
  const { raster, pixel_aspect, picture_ratio } = valuesOf(draft).geometry;
  return {
    edit: "set_frames",
    frames: [frame],
    set: { raster, pixel_aspect: pixel_aspect ?? "1", picture_ratio: picture_ratio ?? null },
  };
}

interface Props {
  frame: Frame;
  project: { id: number; name: string };
  onGone: () => void;
  onAdded: (id: number) => void;
}

/** One frame: its values, and the bin against it. */
export function FrameSheet({ frame, project, onGone, onAdded }: Props) {
  const client = useQueryClient();
  const change = useEdit(project.id);
  const write = useWrite(["project", project.id]);
  const [view, setView] = useState<"values" | "file" | "bin" | "screens">("values");
  const { frames } = useBoard();
  const workers = [
    ["", "source"],
    ...frames.filter(({ id }) => id !== frame.id).map(({ id, values }) => [String(id), values.name] as const),
  ] as const;
  const path = { project: project.id, frame: frame.id };
  const refresh = () => refreshProject(client, project.id);
  const { value, typed, refusal, edit, commit, drop } = useDraft({
    draft: draftOf(frame),
    version: frame.version,
    read: (record) => draftOf(record as Frame),
    refresh,
    save: async (draft, version) => {
      const saved = await write(() =>
        settled(
          api.PUT("/api/v1/projects/{project}/frames/{frame}", {
            params: { path, header: { "If-Match": `"${version}"` } },
            body: valuesOf(draft),
          }),
        ),
      );
      await refresh();
      return saved.version;
    },
  });
  const { data } = useQuery(framePreview(valuesOf(value)));
  const [lastGood, setLastGood] = useState<FrameShape>(frame.shape);
  const shape = data?.sound ? data.value : lastGood;
  if (shape !== lastGood) setLastGood(shape);
  const remove = async () => {
    const { done } = await change({ edit: "delete", sources: [], frames: [frame.id] });
    if (done) onGone();
  };
  const turn = async () => {
    const { done } = await change({ edit: "turn_frames", frames: [frame.id] });
    const [added] = done?.frames ?? [];
    if (added !== undefined) onAdded(added);
  };
  return (
    <RecordSheet
      kind="frame"
      name={frame.values.name}
      project={project.name}
      typed={typed !== null}
      onDelete={remove}
      tools={
        <>
          <Button
            size="sm"
            active={view === "bin"}
            aria-pressed={view === "bin"}
            onClick={() => setView(view === "bin" ? "values" : "bin")}
          >
            Footage check
          </Button>
          <Button
            size="sm"
            active={view === "file"}
            aria-pressed={view === "file"}
            onClick={() => setView(view === "file" ? "values" : "file")}
          >
            File
          </Button>
          <Button
            size="sm"
            active={view === "screens"}
            aria-pressed={view === "screens"}
            onClick={() => setView(view === "screens" ? "values" : "screens")}
          >
            On screens
          </Button>
          <For may="plan">
            <Button size="sm" onClick={turn} {...tip("Add the same frame with width and height swapped")}>
              Rotate a copy
            </Button>
          </For>
        </>
      }
    >
      {view === "file" ? (
        <FileSheet project={project.id} frames={[frame]} />
      ) : view === "bin" ? (
        <BinSheet project={project.id} frame={frame} />
      ) : view === "screens" ? (
        <ScreensSheet frame={frame} />
      ) : (
        <div className="scroll">
          <Fixed may="plan">
            <FrameFields
              draft={value}
              problem={refusal ?? (data && !data.sound ? data.problem : undefined)}
              edit={edit}
              commit={commit}
              drop={drop}
              workers={workers}
            />
          </Fixed>
          <WouldFollow project={project.id} edit={reshaped(typed, value, frame.id)} />
          <ShapeLine shape={shape} />
          {shape.file && (
            <p className="px-3 mb-2 small">
              File: <span className="num">{shape.file.words}</span>
            </p>
          )}
          <For may="plan">
            {shape.proposed_name !== value.name && (
              <p className="px-3 mb-2 small">
                Suggested name:{" "}
                <Button
                  size="sm"
                  variant="plain"
                  onClick={() => {
                    edit({ name: shape.proposed_name });
                    commit();
                  }}
                >
                  {shape.proposed_name}
                </Button>
              </p>
            )}
          </For>
          <KeepInHouse frames={[frame]} />
        </div>
      )}
    </RecordSheet>
  );
}
