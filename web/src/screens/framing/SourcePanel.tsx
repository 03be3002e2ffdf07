import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Frame, type Source, type Subject, wrongAt } from "../../api/client";
import { commonQuery } from "../../api/queries";
import { percent } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { Key, keysOf } from "../../keys/Key";
import { For } from "../../people/may";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { StoredDrawing } from "./StoredDrawing";
import { UprightDrawing } from "./UprightDrawing";
import type { Framing } from "./useFraming";

/** How the source is looked at. */
export interface SourceView {
  /** As it is stored instead of upright. */
  stored: boolean;
  /** What all frames show of it. */
  common: boolean;
  /** The subject is being marked. */
  marking: boolean;
}

interface Props {
  project: number;
  source: Source;
  frame: Frame;
  frames: Frame[];
  framing: Framing;
  view: SourceView;
  setView: (part: Partial<SourceView>) => void;
}

/** The source, and what of it reaches the frame. */
export function SourcePanel({ project, source, frame, frames, framing, view, setView }: Props) {
  const { shown, image, handles } = framing;
  const [without, setWithout] = useState<ReadonlySet<number>>(new Set());
  const { data: all } = useQuery({ ...commonQuery(project, source.id), enabled: view.common });
  const chosen = useChosenFrames(project, source.id, frames, without, view.common);
  const common = view.common ? (without.size ? chosen : all) : undefined;
  const edit = useEdit(project);
  const mark = (subject: Subject | null) =>
    edit({ edit: "set_sources", sources: [source.id], set: { subject } });
  const toggle = (at: number) => {
    const next = new Set(without);
    if (!next.delete(at)) next.add(at);
    if (next.size < frames.length) setWithout(next);
  };
  return (
    <section className="sheet on-source" aria-label="On the source">
      <div className="sheet-head">
        <h2>On the source</h2>
        {common ? (
          <small role="status">
            every frame keeps <b className="num">{percent(common.every_share.value)} %</b>, some{" "}
            <b className="num">{percent(common.some_share.value)} %</b>
          </small>
        ) : (
          <small>
            {view.stored
              ? "as stored, in stored pixels"
              : view.marking
                ? "draw a box around the subject"
                : "upright, in stored lines"}
          </small>
        )}
        <div className="end">
          <Button
            size="sm"
            active={view.stored}
            aria-pressed={view.stored}
            {...keysOf("stored")}
            {...tip("The picture as stored: squeezed and not rotated, with the window in stored pixels")}
            onClick={() => setView({ stored: !view.stored, marking: false })}
          >
            Stored <Key of="stored" />
          </Button>
          <Button
            size="sm"
            active={view.common}
            aria-pressed={view.common}
            {...keysOf("allFrames")}
            {...tip("What every frame shows, and what no frame shows")}
            onClick={() => setView({ common: !view.common, stored: false })}
          >
            All frames <Key of="allFrames" />
          </Button>
          <For may="plan">
            <Button
              size="sm"
              active={view.marking}
              aria-pressed={view.marking}
              {...keysOf("subjectMark")}
              {...tip("Mark what every frame must show whole")}
              onClick={() => setView({ marking: !view.marking, stored: false })}
            >
              Subject <Key of="subjectMark" />
            </Button>
          </For>
        </div>
      </div>
      {view.stored ? (
        <StoredDrawing source={source} conversion={shown} handles={handles} />
      ) : (
        <UprightDrawing
          source={source}
          frame={frame}
          conversion={shown}
          image={image}
          handles={handles}
          common={common}
          without={without.size ? NONE : without}
          subject={source.values.subject}
          onSubject={view.marking ? mark : undefined}
        />
      )}
      {view.common && !view.stored && (
        <fieldset className="guide-row" aria-label="Frames that count">
          {frames.map(({ id, values }, at) => (
            <Form.Check
              key={id}
              id={`counts-${id}`}
              label={values.name}
              checked={!without.has(at)}
              onChange={() => toggle(at)}
            />
          ))}
        </fieldset>
      )}
      {view.marking && <SubjectFields key={source.version} source={source} onSubject={mark} />}
    </section>
  );
}

const NONE: ReadonlySet<number> = new Set();

/** What some of the frames have in common: asked of the same calculation as that of all. */
function useChosenFrames(
  project: number,
  source: number,
  frames: Frame[],
  without: ReadonlySet<number>,
  enabled: boolean,
) {
  const ids = frames.filter((_, at) => !without.has(at)).map(({ id }) => id);
  return useQuery({
    ...commonQuery(project, source, ids),
    enabled: enabled && without.size > 0,
  }).data;
}

const SIDES = ["x", "y", "width", "height"] as const;
const NAMES = { x: "left", y: "top", width: "width", height: "height" } as const;

/** The subject in numbers; the arrow keys in the fields are those of the text. */
function SubjectFields({
  source,
  onSubject,
}: {
  source: Source;
  onSubject: (subject: Subject | null) => Promise<{ problem?: Parameters<typeof wrongAt>[0] | undefined }>;
}) {
  const { subject } = source.values;
  const [draft, setDraft] = useState<Record<(typeof SIDES)[number], string> | null>(null);
  const [problem, setProblem] = useState<Parameters<typeof wrongAt>[0]>();
  const text = (side: (typeof SIDES)[number]) => draft?.[side] ?? String(subject?.[side] ?? "");
  const all = () => ({ x: text("x"), y: text("y"), width: text("width"), height: text("height") });
  const done = async () => {
    if (!draft || SIDES.some((side) => text(side).trim() === "")) return;
    const { problem } = await onSubject(draft);
    setProblem(problem);
    if (!problem) setDraft(null);
  };
  return (
    <div className="subject-fields">
      {SIDES.map((side) => (
        <Field
          key={side}
          label={`subject ${NAMES[side]}`}
          unit="0–1"
          numeric
          value={text(side)}
          wrong={wrongAt(problem, `/set/subject/${side}`)}
          onText={(value) => setDraft({ ...all(), [side]: value })}
          onEnter={done}
          onEscape={draft ? () => setDraft(null) : undefined}
        />
      ))}
      <Button size="sm" disabled={!subject} onClick={() => onSubject(null)}>
        Remove
      </Button>
    </div>
  );
}
