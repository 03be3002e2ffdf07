import { within, wrongAt } from "../../api/client";
import { Choice, Field } from "../../fields/Field";
import { RasterFields } from "../../fields/RasterFields";
import { type FieldsProps, SignalFields } from "../../fields/SignalFields";
import type { SourceDraft } from "../../fields/sourceDraft";
import { METHOD_LIST } from "../../keys/methods";

export const TURNS = [
  ["0", "none"],
  ["90", "90° clockwise"],
  ["180", "180°"],
  ["270", "90° anticlockwise"],
] as const;

export const UPRIGHT = [
  ["open", "not known"],
  ["known", "as set here"],
] as const;
export const FIELDS = [
  ["keep", "as stored"],
  ["deinterlace", "deinterlace"],
] as const;
export const RANGE_PLANS = [
  ["open", "not decided"],
  ["convert", "convert"],
  ["declare", "keep and declare"],
] as const;

export const RATE_PLANS = [
  ["open", "not decided"],
  ["drop", "drop or repeat"],
  ["blend", "blend"],
] as const;

export const SPEEDS = [
  ["real_time", "real time"],
  ["every_frame", "every frame"],
] as const;
export const SOURCE_METHODS = [
  ["", "default of the frame"],
  ...METHOD_LIST.map(({ id, name }) => [id, name] as const),
] as const;

/** Every value of a source, each edited where it stands. */
export function SourceFields({ draft, problem, edit, commit, drop, nameFirst }: FieldsProps<SourceDraft>) {
  const at = (...pointers: string[]) => wrongAt(problem, ...pointers);
  const done = { onDone: commit, onEscape: drop };
  const choose = (part: Partial<SourceDraft>) => {
    edit(part);
    commit?.();
  };
  const inset = (side: "left" | "top" | "right" | "bottom") => (
    <Field
      label={`${side} inset`}
      unit="px"
      numeric
      value={draft[side]}
      wrong={at(`/geometry/active/${side}`)}
      onText={(text) => edit({ [side]: text })}
      {...done}
    />
  );
  return (
    <div className="fields">
      <Field
        label="name"
        className="wide"
        autoFocus={nameFirst}
        value={draft.name}
        wrong={at("/name")}
        onText={(name) => edit({ name })}
        {...done}
      />
      <RasterFields of="stored" draft={draft} problem={problem} edit={edit} commit={commit} drop={drop} />
      {/* A view is worked out here: it has no lens, and nobody held it sideways. */}
      {!draft.view && (
        <>
          <Field
            label="pixel aspect"
            unit="w : h"
            numeric
            value={draft.pixelAspect}
            wrong={at("/geometry/pixel_aspect")}
            onText={(pixelAspect) => edit({ pixelAspect })}
            {...done}
          />
          <Field
            label="lens squeeze"
            unit="×"
            numeric
            value={draft.squeeze}
            wrong={at("/geometry/squeeze")}
            onText={(squeeze) => edit({ squeeze })}
            {...done}
          />
        </>
      )}
      {inset("left")}
      {inset("top")}
      {inset("right")}
      {inset("bottom")}
      {at("/geometry/active", "/geometry") && (
        <div className="field bad wide">
          <div className="wrong" role="alert">
            {at("/geometry/active", "/geometry")}
          </div>
        </div>
      )}
      {!draft.view && (
        <>
          <Choice
            label="rotate upright"
            value={draft.rotation}
            options={TURNS}
            wrong={at("/geometry/rotation")}
            onChoose={(rotation) => choose({ rotation, upright: "known" })}
          />
          <Choice
            label="which way up"
            value={draft.upright}
            options={UPRIGHT}
            onChoose={(upright) => choose({ upright: upright as SourceDraft["upright"] })}
          />
        </>
      )}
      <SignalFields
        draft={draft}
        problem={problem}
        edit={edit}
        commit={commit}
        drop={drop}
        noRate="unknown"
        mayBeUnknown
      />
      {draft.scan === "interlaced" && (
        <Choice
          label="fields, on hand-off"
          value={draft.deinterlace}
          options={FIELDS}
          onChoose={(deinterlace) => choose({ deinterlace: deinterlace as SourceDraft["deinterlace"] })}
        />
      )}
      {draft.signalRange === "full" && (
        <Choice
          label="range, on hand-off"
          value={draft.rangePlan}
          options={RANGE_PLANS}
          onChoose={(rangePlan) => choose({ rangePlan: rangePlan as SourceDraft["rangePlan"] })}
        />
      )}
      <Field
        label="subject: left top width height, from 0 to 1"
        className="wide"
        empty="none; mark it in any framing with S"
        numeric
        value={draft.subject}
        wrong={within(problem, "/subject")}
        onText={(subject) => edit({ subject })}
        onDone={commit}
        onEscape={drop}
      />
      <Choice
        label="speed"
        value={draft.playback}
        options={SPEEDS}
        onChoose={(playback) => choose({ playback: playback as SourceDraft["playback"] })}
      />
      {draft.playback === "real_time" && (
        <Choice
          label="at other rates"
          value={draft.ratePlan}
          options={RATE_PLANS}
          onChoose={(ratePlan) => choose({ ratePlan: ratePlan as SourceDraft["ratePlan"] })}
        />
      )}
      <Choice
        label="method for this source"
        value={draft.method}
        options={SOURCE_METHODS}
        onChoose={(method) => choose({ method: method as SourceDraft["method"] })}
      />
    </div>
  );
}
