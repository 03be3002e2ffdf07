import { type Problem, wrongAt } from "../../api/client";
import { Choice, Field } from "../../fields/Field";
import { METHODS } from "../../shell/methods";
import type { FrameDraft } from "./draft";

interface Props {
  draft: FrameDraft;
  problem?: Problem;
  edit: (part: Partial<FrameDraft>) => void;
  commit?: () => void;
  drop?: () => void;
  nameFirst?: boolean;
}

const STEPS = ["1", "2", "4", "8", "16"].map((step) => [step, `${step} px`] as const);
const METHOD_OPTIONS = METHODS.map(({ id, name }) => [id, name] as const);
const SCANS = [
  ["progressive", "progressive"],
  ["interlaced", "interlaced"],
] as const;
const RANGES = [
  ["narrow", "narrow (16–235)"],
  ["full", "full (0–255)"],
] as const;

/** Every value of a frame, each edited where it stands. */
export function FrameFields({ draft, problem, edit, commit, drop, nameFirst }: Props) {
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
        value={draft.name}
        wrong={at("/name")}
        onText={(name) => edit({ name })}
        {...done}
      />
      <Field
        label="width"
        unit="px"
        numeric
        value={draft.width}
        wrong={at("/geometry/raster/0", "/geometry/raster")}
        onText={(width) => edit({ width })}
        {...done}
      />
      <Field
        label="height"
        unit="px"
        numeric
        value={draft.height}
        wrong={at("/geometry/raster/1")}
        onText={(height) => edit({ height })}
        {...done}
      />
      <Field
        label="picture ratio inside"
        empty="all of it"
        unit=": 1"
        numeric
        value={draft.pictureRatio}
        wrong={at("/geometry/picture_ratio")}
        onText={(pictureRatio) => edit({ pictureRatio })}
        {...done}
      />
      <Choice
        label="default method"
        value={draft.method}
        options={METHOD_OPTIONS}
        onChoose={(method) => choose({ method: method as FrameDraft["method"] })}
      />
      <Choice
        label="step of sides and bars"
        value={draft.step}
        options={STEPS}
        onChoose={(step) => choose({ step })}
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
        label="frame rate"
        empty="open"
        unit="a second"
        numeric
        value={draft.rate}
        wrong={at("/rate")}
        onText={(rate) => edit({ rate })}
        {...done}
      />
      <Choice
        label="scan"
        value={draft.scan}
        options={SCANS}
        onChoose={(scan) => choose({ scan: scan as FrameDraft["scan"] })}
      />
      <Choice
        label="signal range"
        value={draft.signalRange}
        options={RANGES}
        onChoose={(range) => choose({ signalRange: range as FrameDraft["signalRange"] })}
      />
      <Field
        label="note"
        className="wide"
        value={draft.note}
        wrong={at("/note")}
        onText={(note) => edit({ note })}
        {...done}
      />
    </div>
  );
}
