import { within, wrongAt } from "../../api/client";
import { Choice, Field } from "../../fields/Field";
import type { FrameDraft } from "../../fields/frameDraft";
import { RasterFields } from "../../fields/RasterFields";
import { type FieldsProps, SignalFields } from "../../fields/SignalFields";
import { METHOD_LIST } from "../../keys/methods";
import { SphereSizes } from "./SphereSizes";

export const STEPS = ["1", "2", "4", "8", "16"].map((step) => [step, `${step} px`] as const);
export const FRAME_METHODS = [
  ["", "default of the board"],
  ...METHOD_LIST.map(({ id, name }) => [id, name] as const),
] as const;

interface Props extends FieldsProps<FrameDraft> {
  /** The name that an empty one stands for. */
  proposed?: string | undefined;
  /** The frames through which pictures may reach it. */
  workers?: readonly (readonly [string, string])[] | undefined;
}

/** Every value of a frame, each edited where it stands. */
export function FrameFields({ draft, problem, edit, commit, drop, nameFirst, proposed, workers }: Props) {
  const at = (...pointers: string[]) => wrongAt(problem, ...pointers);
  const done = { onDone: commit, onEscape: drop };
  const choose = (part: Partial<FrameDraft>) => {
    edit(part);
    commit?.();
  };
  return (
    <div className="fields">
      <Field
        label="name"
        className="wide"
        autoFocus={nameFirst}
        empty={proposed}
        value={draft.name}
        wrong={at("/name")}
        onText={(name) => edit({ name })}
        {...done}
      />
      <RasterFields draft={draft} problem={problem} edit={edit} commit={commit} drop={drop} />
      <Field
        label="visible ratio"
        empty="whole frame"
        unit=": 1"
        numeric
        value={draft.pictureRatio}
        wrong={at("/geometry/picture_ratio")}
        onText={(pictureRatio) => edit({ pictureRatio })}
        {...done}
      />
      <Choice
        label="method for this frame"
        value={draft.method}
        options={FRAME_METHODS}
        onChoose={(method) => choose({ method: method as FrameDraft["method"] })}
      />
      <Choice label="round to" value={draft.step} options={STEPS} onChoose={(step) => choose({ step })} />
      <Field
        label="pixel aspect"
        unit="w : h"
        numeric
        value={draft.pixelAspect}
        wrong={at("/geometry/pixel_aspect")}
        onText={(pixelAspect) => edit({ pixelAspect })}
        {...done}
      />
      <SignalFields draft={draft} problem={problem} edit={edit} commit={commit} drop={drop} noRate="open" />
      {draft.projection === "sphere" && (
        <SphereSizes
          draft={draft}
          onChoose={(sides) => {
            edit(sides);
            commit?.();
          }}
        />
      )}
      <Field
        label="safe areas: EBU R 95, ST 2046-1 or own %"
        className="wide"
        empty="none"
        value={draft.safeAreas}
        wrong={within(problem, "/safe_areas")}
        onText={(safeAreas) => edit({ safeAreas })}
        {...done}
      />
      <Field
        label="ratio guides"
        empty="none"
        value={draft.guides}
        wrong={within(problem, "/guides")}
        onText={(guides) => edit({ guides })}
        {...done}
      />
      {workers && workers.length > 1 && (
        <Choice
          label="made from"
          value={draft.through}
          options={workers}
          wrong={at("/through")}
          onChoose={(through) => choose({ through })}
        />
      )}
    </div>
  );
}
