import type { Source, SourceValues } from "../../api/client";
import { whole } from "../../fields/Field";
import { NEW_SIGNAL, type SignalDraft, signalDraftOf, signalValuesOf } from "../../fields/SignalFields";

/** A source as its fields show it: everything is text until the server has read it. */
export interface SourceDraft extends SignalDraft {
  name: string;
  width: string;
  height: string;
  pixelAspect: string;
  squeeze: string;
  left: string;
  top: string;
  right: string;
  bottom: string;
  rotation: string;
}

export const NEW_SOURCE: SourceDraft = {
  ...NEW_SIGNAL,
  name: "",
  width: "1920",
  height: "1080",
  pixelAspect: "1",
  squeeze: "1",
  left: "0",
  top: "0",
  right: "0",
  bottom: "0",
  rotation: "0",
};

export function draftOf({ values }: Source): SourceDraft {
  const { raster, pixel_aspect, squeeze, active, rotation } = values.geometry;
  return {
    ...signalDraftOf(values),
    name: values.name,
    width: String(raster[0]),
    height: String(raster[1]),
    pixelAspect: String(pixel_aspect),
    squeeze: String(squeeze),
    left: String(active.left),
    top: String(active.top),
    right: String(active.right),
    bottom: String(active.bottom),
    rotation: String(rotation),
  };
}

export function valuesOf(draft: SourceDraft): SourceValues {
  return {
    ...signalValuesOf(draft),
    name: draft.name,
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
  };
}
