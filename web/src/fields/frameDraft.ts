import type { Frame, FrameSet, FrameValues, Method } from "../api/client";
import { whole } from "./Field";
import { NEW_SIGNAL, orNull, type SignalDraft, signalDraftOf, signalValuesOf, textOf } from "./SignalFields";
import { rasterOf } from "./sides";
import { formOf } from "./sphereForm";

/** A frame as its fields show it: everything is text until the server has read it. */
export interface FrameDraft extends SignalDraft {
  name: string;
  width: string;
  height: string;
  pixelAspect: string;
  pictureRatio: string;
  step: string;
  /** Rules with commas between, as people call them. */
  safeAreas: string;
  /** Ratios with commas or spaces between. */
  guides: string;
  /** The number of the working frame; empty for straight from the source. */
  through: string;
  /** Empty to follow the board. */
  method: Method | "";
  /** How its file is made: it has a sheet of its own. */
  file: FrameValues["file"];
}

export const NEW_FRAME: FrameDraft = {
  ...NEW_SIGNAL,
  name: "",
  width: "1920",
  height: "1080",
  pixelAspect: "1",
  pictureRatio: "",
  step: "2",
  safeAreas: "",
  guides: "",
  through: "",
  method: "",
  file: null,
};

const RULES = [
  { id: "ebu_r95", name: "EBU R 95", meant: /^(ebu.*|r\s?95)$/i },
  { id: "smpte_st2046_1", name: "ST 2046-1", meant: /^(smpte.*|st\s?2046.*|2046.*)$/i },
] as const;

function ruleName(rule: string): string {
  return RULES.find(({ id }) => id === rule)?.name ?? `${rule} %`;
}

const listed = (text: string, between: RegExp) =>
  text
    .split(between)
    .map((each) => each.trim())
    .filter((each) => each !== "");

/** The rules that a text names; what is not understood is left for the server to refuse. */
export function rulesOf(text: string): string[] {
  return listed(text, /[,;]/).map((each) => {
    const known = RULES.find(({ id, meant }) => id === each || meant.test(each));
    return known?.id ?? each.replace(/\s*%$/, "");
  });
}

function ratiosOf(text: string): string[] {
  return listed(text, /[,;\s]+/);
}

export function draftOf({ values }: Pick<Frame, "values">): FrameDraft {
  const { raster, pixel_aspect, picture_ratio, step } = values.geometry;
  return {
    ...signalDraftOf(values),
    name: values.name,
    width: String(raster[0]),
    height: String(raster[1]),
    pixelAspect: String(pixel_aspect),
    pictureRatio: textOf(picture_ratio),
    step: String(step),
    safeAreas: values.safe_areas.map(ruleName).join(", "),
    guides: values.guides.join(", "),
    through: values.through ? String(values.through) : "",
    method: values.method ?? "",
    file: values.file ?? null,
  };
}

/** A step as it was typed; the server says which ones there are. */
const stepOf = (typed: string) => whole(typed) as FrameValues["geometry"]["step"];

export function valuesOf(draft: FrameDraft): FrameValues {
  return {
    ...signalValuesOf(draft),
    scan: draft.scan || "progressive",
    signal_range: draft.signalRange || "narrow",
    name: draft.name,
    geometry: {
      raster: rasterOf(draft),
      pixel_aspect: draft.pixelAspect.trim(),
      picture_ratio: orNull(draft.pictureRatio),
      step: stepOf(draft.step),
    },
    safe_areas: rulesOf(draft.safeAreas),
    guides: ratiosOf(draft.guides),
    through: draft.through ? Number(draft.through) : null,
    method: draft.method || null,
    file: draft.file ?? null,
  };
}

/** What the typed fields set in many frames. */
export function setOf(typed: Partial<FrameDraft>): FrameSet {
  const set: FrameSet = {};
  if (typed.pixelAspect !== undefined) set.pixel_aspect = typed.pixelAspect.trim();
  if (typed.pictureRatio !== undefined) set.picture_ratio = orNull(typed.pictureRatio);
  if (typed.step !== undefined) set.step = stepOf(typed.step);
  if (typed.rate !== undefined) set.rate = orNull(typed.rate);
  if (typed.scan) set.scan = typed.scan;
  if (typed.signalRange) set.signal_range = typed.signalRange;
  if (typed.projection !== undefined) set.projection = typed.projection;
  if (typed.form !== undefined) set.sphere = formOf(typed.form);
  if (typed.safeAreas !== undefined) set.safe_areas = rulesOf(typed.safeAreas);
  if (typed.guides !== undefined) set.guides = ratiosOf(typed.guides);
  if (typed.method !== undefined) set.method = typed.method || null;
  return set;
}
