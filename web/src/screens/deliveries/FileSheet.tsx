import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import { type Edit, type Frame, wrongAt } from "../../api/client";
import { editPreview, fileChoices, framePreview, usualFiles } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { Choice, Field } from "../../fields/Field";
import {
  type FileDraft,
  type FileValues,
  fileDraftOf,
  fileOf,
  fitting,
  profileOf,
} from "../../fields/fileDraft";
import { spread } from "../../fields/ManyFields";
import { Fixed, For } from "../../people/may";
import { useEdit } from "../../writes/useEdit";

/** How the files of one or many frames are made: a usual way to begin with, and every value of it. */
export function FileSheet({ project, frames }: { project: number; frames: Frame[] }) {
  const change = useEdit(project);
  const [first] = frames;
  const ids = frames.map(({ id }) => id);
  const kinds = spread(frames.map(({ values }) => JSON.stringify(values.file ?? null)));
  const shared = kinds.length === 1 ? (first?.values.file ?? null) : undefined;
  const { data: usual } = useQuery({ ...usualFiles(first?.values), enabled: first !== undefined });
  const set = (file: FileValues | null): Edit => ({ edit: "set_frames", frames: ids, set: { file } });
  const store = (file: FileValues | null) => change(set(file));
  if (!first) return null;
  return (
    <div className="scroll file-sheet">
      {shared === undefined && (
        <p className="px-3 mb-2">
          The files of these frames differ:{" "}
          {kinds.map(([kind, times], at) => (
            <span key={kind}>
              {at > 0 && "; "}
              <b>{kind === "null" ? "not set" : nameOf(frames, kind)}</b> on {times}
            </span>
          ))}
          .
        </p>
      )}
      {shared === null && (
        <p className="px-3 mb-2 quiet">
          Nobody has said how {frames.length === 1 ? "the file of this frame is" : "these files are"} made. A
          recipe then takes the default of the script.
        </p>
      )}
      {shared && (
        <Fixed may="plan">
          <FileForm
            key={ids.join()}
            project={project}
            file={shared}
            frame={first}
            only={frames.length === 1}
            set={set}
            store={store}
          />
        </Fixed>
      )}
      {shared !== null && (
        <p className="px-3 mb-2">
          <For may="plan">
            <Button size="sm" onClick={() => store(null)}>
              Leave it open
            </Button>
          </For>
        </p>
      )}
      <h3 className="px-3">Usual for {frames.length === 1 ? "this frame" : first.values.name}</h3>
      <ul className="usual-files">
        {usual?.map(({ title, words, file }) => (
          <li key={title}>
            <Fixed may="plan">
              <Button size="sm" onClick={() => store(file as FileValues)}>
                {title}
              </Button>
            </Fixed>
            <span className="quiet small">{words}</span>
          </li>
        ))}
      </ul>
      <p className="px-3 small quiet">
        Common practice; the delivery specification of the client comes first.
      </p>
    </div>
  );
}

function nameOf(frames: Frame[], kind: string): string {
  return frames.find(({ values }) => JSON.stringify(values.file) === kind)?.shape.file?.words ?? kind;
}

interface FormProps {
  project: number;
  file: FileValues;
  frame: Frame;
  only: boolean;
  set: (file: FileValues) => Edit;
  store: (file: FileValues) => Promise<unknown>;
}

const pairs = (words: readonly (string | number)[]) =>
  words.map((word) => [String(word), String(word)] as const);
const SOUNDS: Record<string, string> = { as_source: "as the source", none: "none", pcm: "PCM", aac: "AAC" };

function FileForm({ project, file, frame, only, set, store }: FormProps) {
  const client = useQueryClient();
  const [draft, setDraft] = useState<FileDraft>(() => fileDraftOf(file));
  const [touched, setTouched] = useState(false);
  const stored = JSON.stringify(file);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is stored now, whoever stored it, is shown
  useEffect(() => {
    setDraft(fileDraftOf(file));
    setTouched(false);
  }, [stored]);
  const { data: choices } = useQuery(fileChoices);
  const wanted = fileOf(draft);
  const { data } = useQuery({ ...editPreview(project, set(wanted)), enabled: touched });
  const problem = touched && data && !data.sound ? data.problem : undefined;
  const { data: previewed } = useQuery(framePreview({ ...frame.values, file: wanted }));
  const shape = previewed?.sound ? previewed.value.file : frame.shape.file;
  if (!choices) return null;
  const codec = choices.codecs.find(({ codec }) => codec === draft.codec);
  const profile = profileOf(codec, draft.profile);
  const container = choices.containers.find(({ container }) => container === draft.container);
  const edit = (part: Partial<FileDraft>) => {
    setTouched(true);
    setDraft((now) => ({ ...now, ...part }));
  };
  const choose = (part: Partial<FileDraft>) => {
    const next = fitting({ ...draft, ...part }, choices);
    setDraft(next);
    void store(fileOf(next));
  };
  const commit = async () => {
    if (!touched || problem) return;
    // Enter may come before the answer to what was typed last.
    const answer = await client.fetchQuery(editPreview(project, set(wanted)));
    if (answer.sound) await store(wanted);
  };
  const done = {
    onDone: commit,
    onEscape: () => {
      setTouched(false);
      setDraft(fileDraftOf(file));
    },
  };
  const at = (name: string) => wrongAt(problem, `/set/file/${name}`);
  const coded = draft.coding === "pcm" || draft.coding === "aac";
  const level = shape?.level_needed;
  return (
    <>
      <h3 className="px-3">How it is made</h3>
      <div className="fields">
        <Choice
          label="codec"
          value={draft.codec}
          options={choices.codecs.map(({ codec, title }) => [codec, title] as const)}
          onChoose={(codec) => choose({ codec: codec as FileDraft["codec"] })}
        />
        <Choice
          label="profile"
          value={draft.profile}
          options={(codec?.profiles ?? []).map(({ profile, title }) => [profile, title] as const)}
          wrong={at("profile")}
          onChoose={(profile) => choose({ profile })}
        />
        <Choice
          label="container"
          value={draft.container}
          options={pairs(codec?.containers ?? [])}
          wrong={at("container")}
          onChoose={(container) => choose({ container: container as FileDraft["container"] })}
        />
        <Choice
          label="bit depth"
          value={String(draft.depth)}
          options={pairs(profile?.depths ?? [])}
          wrong={at("depth")}
          onChoose={(depth) => choose({ depth: Number(depth) })}
        />
        <Choice
          label="chroma"
          value={draft.chroma}
          options={pairs(profile?.chromas ?? [])}
          wrong={at("chroma")}
          onChoose={(chroma) => choose({ chroma: chroma as FileDraft["chroma"] })}
        />
        {(codec?.levels.length ?? 0) > 0 && (
          <Choice
            label="decoder level"
            value={draft.level}
            options={[
              ["", level ? `${level} (needed)` : "as needed"] as const,
              ...pairs(codec?.levels ?? []),
            ]}
            wrong={at("level")}
            onChoose={(level) => choose({ level })}
          />
        )}
        {codec?.worst_quality != null && (
          <Field
            label={`quality, 0 best to ${codec.worst_quality}`}
            numeric
            empty="by bit rate"
            value={draft.quality}
            wrong={at("constant_quality")}
            onText={(quality) => edit(quality.trim() === "" ? { quality } : { quality, average: "" })}
            {...done}
          />
        )}
        {codec?.has_rates && (
          <>
            <Field
              label="average bit rate"
              numeric
              empty="by quality"
              unit="Mb/s"
              value={draft.average}
              wrong={at("average_mbps")}
              onText={(average) => edit(average.trim() === "" ? { average } : { average, quality: "" })}
              {...done}
            />
            <Field
              label="highest bit rate"
              numeric
              empty="no limit"
              unit="Mb/s"
              value={draft.highest}
              wrong={at("highest_mbps")}
              onText={(highest) => edit({ highest })}
              {...done}
            />
          </>
        )}
        {codec?.has_keyframes && (
          <Field
            label="keyframe distance"
            numeric
            empty="up to the encoder"
            unit="frames"
            value={draft.keyframes}
            wrong={at("keyframe_distance")}
            onText={(keyframes) => edit({ keyframes })}
            {...done}
          />
        )}
        <Choice
          label="sound"
          value={draft.coding}
          options={[...(container?.sounds ?? []), "none"].map(
            (word) => [word, SOUNDS[word] ?? word] as const,
          )}
          wrong={at("sound")}
          onChoose={(coding) => choose({ coding: coding as FileDraft["coding"] })}
        />
        {coded && (
          <>
            <Choice
              label="sample rate"
              value={draft.soundRate}
              options={[
                ["32000", "32 kHz"],
                ["44100", "44.1 kHz"],
                ["48000", "48 kHz"],
                ["96000", "96 kHz"],
              ]}
              onChoose={(soundRate) => choose({ soundRate })}
            />
            {draft.coding === "pcm" ? (
              <Choice
                label="sound bits"
                value={draft.bits}
                options={pairs([16, 24, 32])}
                onChoose={(bits) => choose({ bits })}
              />
            ) : (
              <Field
                label="sound bit rate"
                numeric
                unit="kb/s"
                value={draft.kbps}
                wrong={at("sound/kbps")}
                onText={(kbps) => edit({ kbps })}
                {...done}
              />
            )}
            <Field
              label="channels"
              numeric
              empty="as the source"
              value={draft.channels}
              wrong={at("sound/channels")}
              onText={(channels) => edit({ channels })}
              {...done}
            />
          </>
        )}
      </div>
      {only && shape && (
        <dl className="file-facts px-3">
          <dt>an hour</dt>
          <dd className="num">
            {shape.hour?.words ?? (frame.values.rate ? "depends on the picture" : "needs a frame rate")}
          </dd>
          {(codec?.levels.length ?? 0) > 0 && (
            <>
              <dt>level needed</dt>
              <dd className="num">
                {!shape.within_level && <SeverityMark severity="caution" />}
                {shape.level_needed ?? "none takes it"}
                {!frame.values.rate && " for the size alone"}
              </dd>
            </>
          )}
          {shape.misfits.map((misfit) => (
            <dd key={misfit} className="misfit">
              <SeverityMark severity="caution" /> Must be {misfit}
            </dd>
          ))}
        </dl>
      )}
    </>
  );
}
