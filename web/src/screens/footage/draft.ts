import type { Source, SourceValues } from "../../api/client";
import { whole } from "../../fields/Field";

/** A source as its fields show it: everything is text until the server has read it. */
export interface SourceDraft {
  name: string;
  note: string;
  width: string;
  height: string;
  pixelAspect: string;
  squeeze: string;
  left: string;
  top: string;
  right: string;
  bottom: string;
  rotation: string;
  rate: string;
  scan: SourceValues["scan"];
  signalRange: SourceValues["signal_range"];
}

export const NEW_SOURCE: SourceDraft = {
  name: "",
  note: "",
  width: "1920",
  height: "1080",
  pixelAspect: "1",
  squeeze: "1",
  left: "0",
  top: "0",
  right: "0",
  bottom: "0",
  rotation: "0",
  rate: "",
  scan: "progressive",
  signalRange: "narrow",
};

export function draftOf({ values }: Source): SourceDraft {
  const { geometry } = values;
  return {
    name: values.name,
    note: values.note,
    width: String(geometry.raster[0]),
    height: String(geometry.raster[1]),
    pixelAspect: String(geometry.pixel_aspect),
    squeeze: String(geometry.squeeze),
    left: String(geometry.active.left),
    top: String(geometry.active.top),
    right: String(geometry.active.right),
    bottom: String(geometry.active.bottom),
    rotation: String(geometry.rotation),
    rate: values.rate === null || values.rate === undefined ? "" : String(values.rate),
    scan: values.scan,
    signalRange: values.signal_range,
  };
}

export function valuesOf(draft: SourceDraft): SourceValues {
  return {
    name: draft.name,
    note: draft.note,
    geometry: {
      raster: [whole(draft.width), whole(draft.height)],
      pixel_aspect: draft.pixelAspect.trim(),
      squeeze: draft.squeeze.trim(),
      active: {
        left: whole(draft.left),
        top: whole(draft.top),
        right: whole(draft.right),
        bottom: whole(draft.bottom),
      },
      rotation: whole(draft.rotation),
    },
    rate: draft.rate.trim() === "" ? null : draft.rate.trim(),
    scan: draft.scan,
    signal_range: draft.signalRange,
  };
}
