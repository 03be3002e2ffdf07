import type { Frame, FrameValues } from "../../api/client";
import { whole } from "../../fields/Field";

/** A frame as its fields show it: everything is text until the server has read it. */
export interface FrameDraft {
  name: string;
  note: string;
  width: string;
  height: string;
  pixelAspect: string;
  pictureRatio: string;
  step: string;
  rate: string;
  scan: FrameValues["scan"];
  signalRange: FrameValues["signal_range"];
  method: FrameValues["default_method"];
}

export const NEW_FRAME: FrameDraft = {
  name: "",
  note: "",
  width: "1920",
  height: "1080",
  pixelAspect: "1",
  pictureRatio: "",
  step: "2",
  rate: "",
  scan: "progressive",
  signalRange: "narrow",
  method: "fit",
};

const text = (value: string | number | null | undefined) =>
  value === null || value === undefined ? "" : String(value);

export function draftOf({ values }: Frame): FrameDraft {
  const { geometry } = values;
  return {
    name: values.name,
    note: values.note,
    width: text(geometry.raster[0]),
    height: text(geometry.raster[1]),
    pixelAspect: text(geometry.pixel_aspect),
    pictureRatio: text(geometry.picture_ratio),
    step: text(geometry.step),
    rate: text(values.rate),
    scan: values.scan,
    signalRange: values.signal_range,
    method: values.default_method,
  };
}

export function valuesOf(draft: FrameDraft): FrameValues {
  const orNull = (value: string) => (value.trim() === "" ? null : value.trim());
  return {
    name: draft.name,
    note: draft.note,
    geometry: {
      raster: [whole(draft.width), whole(draft.height)],
      pixel_aspect: draft.pixelAspect.trim(),
      picture_ratio: orNull(draft.pictureRatio),
      step: whole(draft.step),
    },
    rate: orNull(draft.rate),
    scan: draft.scan,
    signal_range: draft.signalRange,
    default_method: draft.method,
  };
}
