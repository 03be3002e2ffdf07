import type { Method, Source, SourceSet, SourceValues, Subject } from "../api/client";
import { whole } from "./Field";
import { NEW_SIGNAL, orNull, type SignalDraft, signalDraftOf, signalValuesOf } from "./SignalFields";
import { rasterOf } from "./sides";
import { formOf } from "./sphereForm";

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
  playback: "real_time" | "every_frame";
  /** Whether it is known which way up it is stored. */
  upright: "open" | "known";
  deinterlace: "keep" | "deinterlace";
  rangePlan: "open" | "convert" | "declare";
  ratePlan: "open" | "drop" | "blend";
  /** Left, top, width and height in shares of the picture, with spaces between; empty for none. */
  subject: string;
  /** Empty to follow the frames. */
  method: Method | "";
  /** Where it was read; kept as it is. */
  origin: SourceValues["origin"];
  /** The picture that it shows; kept as it is. */
  still: SourceValues["still"];
  /** How the sphere is turned, and where a view looks: both have a screen of their own. */
  turn: SourceValues["turn"];
  onSphere: SourceValues["on_sphere"];
  view: SourceValues["view"];
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
  playback: "real_time",
  upright: "open",
  deinterlace: "keep",
  rangePlan: "open",
  ratePlan: "open",
  subject: "",
  method: "",
  scan: "",
  signalRange: "",
  origin: null,
  still: null,
  turn: { yaw: "0", pitch: "0", roll: "0" },
  onSphere: [],
  view: null,
};

/** A subject as one field shows it. */
function subjectText(subject: Subject | null | undefined): string {
  return subject ? [subject.x, subject.y, subject.width, subject.height].join(" ") : "";
}

/** The subject of such a field; what is missing is left for the server to name. */
export function subjectOf(text: string): Subject | undefined {
  const [x = "", y = "", width = "", height = "", ...more] = text.trim().split(/[\s;]+/);
  if (x === "") return undefined;
  return { x, y, width, height: [height, ...more].join(" ") };
}

export function draftOf({ values }: Pick<Source, "values">): SourceDraft {
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
    playback: values.playback,
    upright: values.upright_known ? "known" : "open",
    deinterlace: values.deinterlace ? "deinterlace" : "keep",
    rangePlan: values.range_plan,
    ratePlan: values.rate_plan,
    subject: subjectText(values.subject),
    method: values.method ?? "",
    origin: values.origin,
    still: values.still,
    turn: values.turn,
    onSphere: values.on_sphere,
    view: values.view,
  };
}

/** A turn as it was typed; the server says which ones there are. */
const turnOf = (typed: string) => whole(typed) as SourceValues["geometry"]["rotation"];

export function valuesOf(draft: SourceDraft): SourceValues {
  return {
    ...signalValuesOf(draft),
    name: draft.name,
    geometry: {
      raster: rasterOf(draft),
      pixel_aspect: draft.pixelAspect.trim(),
      squeeze: draft.squeeze.trim(),
      active: {
        left: whole(draft.left),
        top: whole(draft.top),
        right: whole(draft.right),
        bottom: whole(draft.bottom),
      },
      rotation: turnOf(draft.rotation),
    },
    playback: draft.playback,
    upright_known: draft.upright === "known",
    deinterlace: draft.deinterlace === "deinterlace",
    range_plan: draft.rangePlan,
    rate_plan: draft.ratePlan,
    subject: subjectOf(draft.subject) ?? null,
    method: draft.method || null,
    origin: draft.origin ?? null,
    still: draft.still ?? null,
    turn: draft.turn,
    on_sphere: draft.onSphere,
    view: draft.view ?? null,
  };
}

/** What the typed fields set in many sources. */
export function setOf(typed: Partial<SourceDraft>): SourceSet {
  const set: SourceSet = {};
  if (typed.pixelAspect !== undefined) set.pixel_aspect = typed.pixelAspect.trim();
  if (typed.squeeze !== undefined) set.squeeze = typed.squeeze.trim();
  if (typed.rotation !== undefined) set.rotation = turnOf(typed.rotation);
  if (typed.rate !== undefined) set.rate = orNull(typed.rate);
  if (typed.scan !== undefined) set.scan = typed.scan || null;
  if (typed.signalRange !== undefined) set.signal_range = typed.signalRange || null;
  if (typed.playback !== undefined) set.playback = typed.playback;
  if (typed.projection !== undefined) set.projection = typed.projection;
  if (typed.form !== undefined) set.sphere = formOf(typed.form);
  if (typed.upright !== undefined) set.upright_known = typed.upright === "known";
  if (typed.deinterlace !== undefined) set.deinterlace = typed.deinterlace === "deinterlace";
  if (typed.rangePlan !== undefined) set.range_plan = typed.rangePlan;
  if (typed.ratePlan !== undefined) set.rate_plan = typed.ratePlan;
  if (typed.subject !== undefined) set.subject = subjectOf(typed.subject) ?? null;
  if (typed.method !== undefined) set.method = typed.method || null;
  const active: Partial<NonNullable<SourceSet["active"]>> = {};
  for (const side of ["left", "top", "right", "bottom"] as const) {
    const text = typed[side];
    if (text !== undefined) active[side] = whole(text);
  }
  if (Object.keys(active).length > 0) set.active = active as NonNullable<SourceSet["active"]>;
  return set;
}

/** The parts of a treatment, each with what it sets. */
export const TREATMENT: readonly { id: string; name: string; set: (values: SourceValues) => SourceSet }[] = [
  { id: "squeeze", name: "squeeze", set: ({ geometry }) => ({ squeeze: geometry.squeeze }) },
  {
    id: "pixel_aspect",
    name: "pixel aspect",
    set: ({ geometry }) => ({ pixel_aspect: geometry.pixel_aspect }),
  },
  { id: "active", name: "insets", set: ({ geometry }) => ({ active: geometry.active }) },
  { id: "rotation", name: "rotation", set: ({ geometry }) => ({ rotation: geometry.rotation }) },
  { id: "rate", name: "rate", set: ({ rate }) => ({ rate: rate ?? null }) },
  { id: "scan", name: "scan", set: ({ scan }) => ({ scan: scan ?? null }) },
  {
    id: "signal_range",
    name: "signal range",
    set: ({ signal_range }) => ({ signal_range: signal_range ?? null }),
  },
  { id: "sphere", name: "sphere", set: ({ projection, sphere }) => ({ projection, sphere }) },
  { id: "turn", name: "turn of the sphere", set: ({ turn }) => ({ turn }) },
  { id: "on_sphere", name: "pictures on the sphere", set: ({ on_sphere }) => ({ on_sphere }) },
  { id: "playback", name: "speed", set: ({ playback }) => ({ playback }) },
  { id: "subject", name: "subject", set: ({ subject }) => ({ subject: subject ?? null }) },
  { id: "method", name: "method", set: ({ method }) => ({ method: method ?? null }) },
];

/** The parts that are given unless somebody chooses others: what the geometry is made of. */
export const GEOMETRY_PARTS = ["squeeze", "pixel_aspect", "active", "rotation"] as const;

/** What the chosen parts of a treatment set. */
export function treatmentSet(values: SourceValues, parts: readonly string[]): SourceSet {
  return Object.assign(
    {},
    ...TREATMENT.filter(({ id }) => parts.includes(id)).map((part) => part.set(values)),
  );
}
