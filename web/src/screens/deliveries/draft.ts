import type { Frame, FrameValues } from "../../api/client";
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
  method: FrameValues["default_method"];
}

export const NEW_FRAME: FrameDraft = {
  ...NEW_SIGNAL,
  name: "",
  width: "1920",
  height: "1080",
  pixelAspect: "1",
  pictureRatio: "",
  step: "2",
  method: "fit",
};

export function draftOf({ values }: Frame): FrameDraft {
  const { raster, pixel_aspect, picture_ratio, step } = values.geometry;
  return {
    ...signalDraftOf(values),
    name: values.name,
    width: String(raster[0]),
    height: String(raster[1]),
    pixelAspect: String(pixel_aspect),
    pictureRatio: textOf(picture_ratio),
    step: String(step),
    method: values.default_method,
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
    default_method: draft.method,
  };
}
