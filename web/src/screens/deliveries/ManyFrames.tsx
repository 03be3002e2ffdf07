import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import type { Edit, Frame } from "../../api/client";
import { editPreview } from "../../api/queries";
import { useEdit } from "../../api/useEdit";
import { count } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { type ManyField, ManyFields } from "../../fields/ManyFields";
import { RANGES, SCANS } from "../../fields/SignalFields";
import { draftOf, type FrameDraft, setOf } from "./draft";
import { FRAME_METHODS, STEPS } from "./FrameFields";
import { KeepInHouse } from "./KeepInHouse";

const FIELDS: readonly ManyField<FrameDraft>[] = [
  { key: "rate", label: "frame rate", unit: "a second", empty: "open", pointers: ["/set/rate"] },
  { key: "method", label: "method of their columns", options: FRAME_METHODS, pointers: ["/set/method"] },
  {
    key: "pictureRatio",
    label: "picture ratio inside",
    unit: ": 1",
    empty: "all of it",
    pointers: ["/set/picture_ratio"],
  },
  { key: "step", label: "step of sides and bars", options: STEPS, pointers: ["/set/step"] },
  { key: "pixelAspect", label: "pixel aspect", unit: "w : h", pointers: ["/set/pixel_aspect"] },
  { key: "scan", label: "scan", options: SCANS, pointers: ["/set/scan"] },
  { key: "signalRange", label: "signal range", options: RANGES, pointers: ["/set/signal_range"] },
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
  const [typed, setTyped] = useState<Partial<FrameDraft>>({});
  const ids = picked.map(({ id }) => id);
  const which = ids.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another selection begins anew
  useEffect(() => setTyped({}), [which]);
  const something = Object.keys(typed).length > 0;
  const change: Edit = { edit: "set_frames", frames: ids, set: setOf(typed) };
  const { data } = useQuery({ ...editPreview(project.id, change), enabled: something });
  const problem = something && data && !data.sound ? data.problem : undefined;
  const would = something && data?.sound ? data.value : undefined;
  const commit = async () => {
    if (!something || problem) return;
    const { done } = await edit(change);
    if (done) setTyped({});
  };
  const turn = async () => {
    const { done } = await edit({ edit: "turn_frames", frames: ids });
    if (done) onAdded(done.frames);
  };
  const remove = async () => {
    const { done } = await edit({ edit: "delete", sources: [], frames: ids });
    if (done) onGone();
  };
  return (
    <section className="sheet" aria-label={`${picked.length} frames`}>
      <div className="sheet-head">
        <h2>{count(picked.length, "frame")}</h2>
        <div className="end d-flex gap-2">
          <Button size="sm" onClick={turn} title="Add each of them with its sides exchanged">
            Turn upright: add {picked.length}
          </Button>
          <Button size="sm" onClick={remove}>
            Delete them
          </Button>
        </div>
      </div>
      <div className="scroll">
        <ManyFields
          fields={FIELDS}
          drafts={picked.map(draftOf)}
          typed={typed}
          problem={problem}
          edit={(key, value) => setTyped((now) => ({ ...now, [key]: value }))}
          commit={commit}
          drop={() => setTyped({})}
        />
        <div className="would" role="status" data-open={something}>
          {something ? (
            <>
              <span>{problem?.detail ?? (would ? `${would.label}: changes ${would.changed}.` : "…")}</span>
              <Button size="sm" variant="ink" disabled={!would || would.changed === 0} onClick={commit}>
                Change {would?.changed ?? ""} <kbd>Enter</kbd>
              </Button>
              <Button size="sm" onClick={() => setTyped({})}>
                Drop <kbd>Esc</kbd>
              </Button>
            </>
          ) : (
            <span className="quiet">
              Type or choose a value: how many will change is said before it happens.
            </span>
          )}
        </div>
        <KeepInHouse frames={picked} />
      </div>
      <TitleBlock
        entries={[
          ["project", project.name],
          ["picked", count(picked.length, "frame")],
        ]}
      />
    </section>
  );
}
