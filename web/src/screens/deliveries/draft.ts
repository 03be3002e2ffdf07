import type { Frame, FrameSet, FrameValues, Method } from "../../api/client";
import { whole } from "../../fields/Field";
import {
  NEW_SIGNAL,
  orNull,
  type SignalDraft,
  signalDraftOf,
  signalValuesOf,
  textOf,
} from "../../fields/SignalFields";

/** A frame as its fields show it: everything is text until the server has read it. */
export interface FrameDraft extends SignalDraft {
  name: string;
  width: string;
  height: string;
  pixelAspect: string;
  pictureRatio: string;
  step: string;
  /** Empty to follow the board. */
  method: Method | "";
}

export const NEW_FRAME: FrameDraft = {
  ...NEW_SIGNAL,
  name: "",
  width: "1920",
  height: "1080",
  pixelAspect: "1",
  pictureRatio: "",
  step: "2",
  method: "",
};

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
    method: values.method ?? "",
  };
}

export function valuesOf(draft: FrameDraft): FrameValues {
  return {
    ...signalValuesOf(draft),
    name: draft.name,
    geometry: {
      raster: [whole(draft.width), whole(draft.height)],
      pixel_aspect: draft.pixelAspect.trim(),
      picture_ratio: orNull(draft.pictureRatio),
      step: whole(draft.step),
    },
    method: draft.method || null,
  };
}

/** What the typed fields set in many frames. */
export function setOf(typed: Partial<FrameDraft>): FrameSet {
  const set: FrameSet = {};
  if (typed.pixelAspect !== undefined) set.pixel_aspect = typed.pixelAspect.trim();
  if (typed.pictureRatio !== undefined) set.picture_ratio = orNull(typed.pictureRatio);
  if (typed.step !== undefined) set.step = whole(typed.step);
  if (typed.rate !== undefined) set.rate = orNull(typed.rate);
  if (typed.scan !== undefined) set.scan = typed.scan;
  if (typed.signalRange !== undefined) set.signal_range = typed.signalRange;
  if (typed.method !== undefined) set.method = typed.method || null;
  return set;
}
