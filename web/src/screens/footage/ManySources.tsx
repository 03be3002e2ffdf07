import { Button } from "react-bootstrap";
import type { Source } from "../../api/client";
import { count } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { type ManyField, ManyFields } from "../../fields/ManyFields";
import { PROJECTIONS, SOURCE_RANGES, SOURCE_SCANS } from "../../fields/SignalFields";
import { draftOf, type SourceDraft, setOf } from "../../fields/sourceDraft";
import { FORMS } from "../../fields/sphereForm";
import { For } from "../../people/may";
import { useEdit } from "../../writes/useEdit";
import { ActivePictureTools } from "./ActivePictureTools";
import { RATE_PLANS, SOURCE_METHODS, SPEEDS, TURNS } from "./SourceFields";
import { StillTools } from "./StillTools";
import { GiveTreatment } from "./Treatment";

const FIELDS: readonly ManyField<SourceDraft>[] = [
  { key: "squeeze", label: "lens squeeze", unit: "×", pointers: ["/set/squeeze"] },
  { key: "pixelAspect", label: "pixel aspect", unit: "w : h", pointers: ["/set/pixel_aspect"] },
  { key: "rotation", label: "rotate upright", options: TURNS, pointers: ["/set/rotation"] },
  { key: "rate", label: "frame rate", unit: "fps", empty: "unknown", pointers: ["/set/rate"] },
  { key: "left", label: "left inset", unit: "px", pointers: ["/set/active/left", "/set/active"] },
  { key: "top", label: "top inset", unit: "px", pointers: ["/set/active/top", "/set/active"] },
  { key: "right", label: "right inset", unit: "px", pointers: ["/set/active/right", "/set/active"] },
  { key: "bottom", label: "bottom inset", unit: "px", pointers: ["/set/active/bottom", "/set/active"] },
  { key: "scan", label: "scan", options: SOURCE_SCANS, pointers: ["/set/scan"] },
  { key: "signalRange", label: "signal range", options: SOURCE_RANGES, pointers: ["/set/signal_range"] },
  { key: "projection", label: "picture", options: PROJECTIONS, pointers: ["/set/projection"] },
  { key: "form", label: "sphere", options: FORMS, pointers: ["/set/sphere"] },
  { key: "ratePlan", label: "at other rates", options: RATE_PLANS, pointers: ["/set/rate_plan"] },
  { key: "playback", label: "speed", options: SPEEDS, pointers: ["/set/playback"] },
  { key: "method", label: "method for these sources", options: SOURCE_METHODS, pointers: ["/set/method"] },
];

interface Props {
  project: { id: number; name: string };
  picked: Source[];
  onGone: () => void;
}

/** Many sources at once: what they share, and one change for all, counted before it happens. */
export function ManySources({ project, picked, onGone }: Props) {
  const edit = useEdit(project.id);
  const ids = picked.map((source) => source.id);
  const remove = async () => {
    const { done } = await edit({ edit: "delete", sources: ids, frames: [] });
    if (done) onGone();
  };
  const kinds = new Map<string, number>();
  for (const { alike } of picked) kinds.set(alike, (kinds.get(alike) ?? 0) + 1);
  return (
    <section className="sheet" aria-label={`${picked.length} sources`}>
      <div className="sheet-head">
        <h2>{count(picked.length, "source")}</h2>
        <small>{kinds.size === 1 ? "all alike" : count(kinds.size, "kind")}</small>
        <div className="end">
          <For may="plan">
            <Button size="sm" onClick={remove}>
              Delete selected
            </Button>
          </For>
        </div>
      </div>
      <ul className="kinds">
        {[...kinds].slice(0, 4).map(([words, number]) => (
          <li key={words}>
            <b className="num">{number}</b> {words}
          </li>
        ))}
        {kinds.size > 4 && <li className="quiet">and {kinds.size - 4} more kinds</li>}
      </ul>
      <For may="plan">
        <div className="scroll">
          <ManyFields
            project={project.id}
            fields={FIELDS}
            ids={ids}
            drafts={picked.map(draftOf)}
            change={(typed) => ({ edit: "set_sources", sources: ids, set: setOf(typed) })}
          />
          <GiveTreatment project={project.id} picked={picked} />
          <StillTools project={project.id} picked={picked} />
          <ActivePictureTools project={project.id} picked={picked} />
        </div>
      </For>
      <TitleBlock
        entries={[
          ["project", project.name],
          ["selected", count(picked.length, "source")],
        ]}
      />
    </section>
  );
}
