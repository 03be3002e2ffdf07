import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Frame } from "../../api/client";
import { count } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { draftOf, type FrameDraft, setOf } from "../../fields/frameDraft";
import { type ManyField, ManyFields } from "../../fields/ManyFields";
import { PROJECTIONS, RANGES, SCANS } from "../../fields/SignalFields";
import { FORMS } from "../../fields/sphereForm";
import { For } from "../../people/may";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { FileSheet } from "./FileSheet";
import { FRAME_METHODS, STEPS } from "./FrameFields";
import { KeepInHouse } from "./KeepInHouse";

const FIELDS: readonly ManyField<FrameDraft>[] = [
  { key: "rate", label: "frame rate", unit: "fps", empty: "open", pointers: ["/set/rate"] },
  { key: "method", label: "method for these frames", options: FRAME_METHODS, pointers: ["/set/method"] },
  {
    key: "pictureRatio",
    label: "visible ratio",
    unit: ": 1",
    empty: "whole frame",
    pointers: ["/set/picture_ratio"],
  },
  { key: "step", label: "round to", options: STEPS, pointers: ["/set/step"] },
  { key: "pixelAspect", label: "pixel aspect", unit: "w : h", pointers: ["/set/pixel_aspect"] },
  { key: "scan", label: "scan", options: SCANS, pointers: ["/set/scan"] },
  {
    key: "safeAreas",
    label: "safe areas",
    empty: "none",
    pointers: ["/set/safe_areas", "/set/safe_areas/0"],
  },
  { key: "guides", label: "ratio guides", empty: "none", pointers: ["/set/guides", "/set/guides/0"] },
  { key: "signalRange", label: "signal range", options: RANGES, pointers: ["/set/signal_range"] },
  { key: "projection", label: "picture", options: PROJECTIONS, pointers: ["/set/projection"] },
  { key: "form", label: "sphere", options: FORMS, pointers: ["/set/sphere"] },
];

interface Props {
  project: { id: number; name: string };
  picked: Frame[];
  onGone: () => void;
  onAdded: (ids: number[]) => void;
}

/** Many frames at once: shared values, their upright twins, keeping them in the house. */
export function ManyFrames({ project, picked, onGone, onAdded }: Props) {
  const edit = useEdit(project.id);
  const ids = picked.map(({ id }) => id);
  const turn = async () => {
    const { done } = await edit({ edit: "turn_frames", frames: ids });
    if (done) onAdded(done.frames);
  };
  const [files, setFiles] = useState(false);
  const remove = async () => {
    const { done } = await edit({ edit: "delete", sources: [], frames: ids });
    if (done) onGone();
  };
  return (
    <section className="sheet" aria-label={`${picked.length} frames`}>
      <div className="sheet-head">
        <h2>{count(picked.length, "frame")}</h2>
        <div className="end d-flex gap-2">
          <For may="plan">
            <Button size="sm" onClick={turn} {...tip("Add each of them with width and height swapped")}>
              Rotate copies: add {picked.length}
            </Button>
          </For>
          <Button size="sm" active={files} aria-pressed={files} onClick={() => setFiles(!files)}>
            Files
          </Button>
          <For may="plan">
            <Button size="sm" onClick={remove}>
              Delete selected
            </Button>
          </For>
        </div>
      </div>
      {files && <FileSheet project={project.id} frames={picked} />}
      <For may="plan">
        <div className="scroll" hidden={files}>
          <ManyFields
            project={project.id}
            fields={FIELDS}
            ids={ids}
            drafts={picked.map(draftOf)}
            change={(typed) => ({ edit: "set_frames", frames: ids, set: setOf(typed) })}
          />
          <KeepInHouse frames={picked} />
        </div>
      </For>
      <TitleBlock
        entries={[
          ["project", project.name],
          ["selected", count(picked.length, "frame")],
        ]}
      />
    </section>
  );
}
