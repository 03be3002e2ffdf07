import { wrongAt } from "../../api/client";
import { Choice, Field } from "../../fields/Field";
import { type FieldsProps, SignalFields } from "../../fields/SignalFields";
import type { SourceDraft } from "./draft";

const TURNS = [
  ["0", "none"],
  ["90", "90° clockwise"],
  ["180", "180°"],
  ["270", "90° anticlockwise"],
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
      label={`off the ${side}`}
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
      <Field
        label="stored width"
        unit="px"
        numeric
        value={draft.width}
        wrong={at("/geometry/raster/0", "/geometry/raster")}
        onText={(width) => edit({ width })}
        {...done}
      />
      <Field
        label="stored height"
        unit="px"
        numeric
        value={draft.height}
        wrong={at("/geometry/raster/1")}
        onText={(height) => edit({ height })}
        {...done}
      />
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
      {inset("left")}
      {inset("top")}
      {inset("right")}
      {inset("bottom")}
      {at("/geometry/active", "/geometry") && (
        <div className="field bad wide">
          <div className="wrong" role="alert">
            Accepted: {at("/geometry/active", "/geometry")}
          </div>
        </div>
      )}
      <Choice
        label="turn to stand upright"
        value={draft.rotation}
        options={TURNS}
        wrong={at("/geometry/rotation")}
        onChoose={(rotation) => choose({ rotation })}
      />
      <SignalFields
        draft={draft}
        problem={problem}
        edit={edit}
        commit={commit}
        drop={drop}
        noRate="not known"
      />
    </div>
  );
}
