import type { components } from "../../api/schema";
import { whole } from "../../fields/Field";

type Schemas = components["schemas"];
export type CalcRequest = Schemas["CalcRequest"];
export type Results = {
  ratio: Schemas["ExtractionResult"];
  squeeze: Schemas["DesqueezeResult"];
  pixels: Schemas["DesqueezeResult"];
  scale: Schemas["ScaleResult"];
  push: Schemas["ConversionResult"];
  rates: Schemas["CadenceResult"];
  sphere: Schemas["SphereFrameResult"];
  view: Schemas["SphereViewResult"];
  place: Schemas["SpherePlaceResult"];
  decoder: Schemas["LevelsResult"];
  bits: Schemas["WeightResult"];
  screen: Schemas["ViewingResult"];
};
export type FamilyId = keyof Results;

/** The values of a family's fields, as they were typed. */
export type Entries = Record<string, string>;

/** One field: where the server names it when it is wrong, and what it offers. */
export interface RuleField {
  key: string;
  label: string;
  first: string;
  unit?: string | undefined;
  at: string[];
  options?: readonly (readonly [string, string])[] | undefined;
  /** What an empty field means. */
  empty?: string | undefined;
}

export interface Family {
  id: FamilyId;
  name: string;
  /** The question that it answers. */
  asks: string;
  fields: RuleField[];
  request: (entries: Entries) => CalcRequest;
}

const STEPS = ["1", "2", "4", "8", "16"].map((step) => [step, `${step} px`] as const);
const ROUNDINGS = [
  ["down", "down"],
  ["nearest", "nearest"],
  ["up", "up"],
] as const;

const size = (
  width: string,
  height: string,
  of: string,
  first: [string, string],
  pointer: string,
): RuleField[] => [
  { key: width, label: `${of} width`, first: first[0], unit: "px", at: [`${pointer}/0`, pointer] },
  { key: height, label: `${of} height`, first: first[1], unit: "px", at: [`${pointer}/1`] },
];

const pair = (entries: Entries, width: string, height: string) => [
  whole(entries[width] ?? ""),
  whole(entries[height] ?? ""),
];

const text = (entries: Entries, key: string) => (entries[key] ?? "").trim();
const optional = (entries: Entries, key: string) => text(entries, key) || undefined;

/** Requests are built as plain objects; the server says what is wrong with them. */
export const request = (body: object) => JSON.parse(JSON.stringify(body)) as CalcRequest;

export const FAMILIES: readonly Family[] = [
  {
    id: "ratio",
    name: "Ratio and frame",
    asks: "2.39 out of UHD: how high?",
    fields: [
      ...size("w", "h", "container", ["3840", "2160"], "/container"),
      { key: "ratio", label: "ratio", first: "2.39", unit: ": 1", at: ["/ratio"] },
      {
        key: "keep",
        label: "keep",
        first: "inside",
        at: ["/keep"],
        options: [
          ["inside", "inside both"],
          ["width", "the width"],
          ["height", "the height"],
        ],
      },
      { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
      { key: "round", label: "rounding", first: "down", at: ["/round"], options: ROUNDINGS },
      { key: "aspect", label: "pixel aspect", first: "1", unit: "w : h", at: ["/pixel_aspect"] },
    ],
    request: (of) =>
      request({
        kind: "extraction",
        container: pair(of, "w", "h"),
        pixel_aspect: text(of, "aspect"),
        ratio: text(of, "ratio"),
        keep: of.keep,
        step: whole(of.step ?? ""),
        round: of.round,
      }),
  },
  {
    id: "squeeze",
    name: "Squeeze",
    asks: "1.8x on a 16:9 sensor: what do I get?",
    fields: [
      ...size("w", "h", "stored", ["3840", "2160"], "/raster"),
      { key: "squeeze", label: "lens squeeze", first: "1.8", unit: "×", at: ["/squeeze"] },
      {
        key: "target",
        label: "target ratio",
        first: "2.39",
        unit: ": 1",
        at: ["/target_ratio"],
        empty: "none",
      },
      { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
      { key: "round", label: "rounding", first: "down", at: ["/round"], options: ROUNDINGS },
    ],
    request: (of) =>
      request({
        kind: "desqueeze",
        raster: pair(of, "w", "h"),
        squeeze: text(of, "squeeze"),
        target_ratio: optional(of, "target"),
        step: whole(of.step ?? ""),
        round: of.round,
      }),
  },
  {
    id: "pixels",
    name: "Pixel shape",
    asks: "720 columns on square pixels?",
    fields: [
      ...size("w", "h", "stored", ["720", "576"], "/raster"),
      { key: "aspect", label: "pixel aspect", first: "12:11", unit: "w : h", at: ["/pixel_aspect"] },
      {
        key: "target",
        label: "meant to show",
        first: "4:3",
        unit: ": 1",
        at: ["/target_ratio"],
        empty: "whole picture",
      },
      { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
      { key: "round", label: "rounding", first: "nearest", at: ["/round"], options: ROUNDINGS },
    ],
    request: (of) =>
      request({
        kind: "desqueeze",
        raster: pair(of, "w", "h"),
        pixel_aspect: text(of, "aspect"),
        target_ratio: optional(of, "target"),
        step: whole(of.step ?? ""),
        round: of.round,
      }),
  },
  {
    id: "scale",
    name: "Scale",
    asks: "HD to UHD: what factor?",
    fields: [
      ...size("w", "h", "from", ["1920", "1080"], "/from"),
      ...size("tw", "th", "to", ["3840", "2160"], "/to"),
    ],
    request: (of) => request({ kind: "scale", from: pair(of, "w", "h"), to: pair(of, "tw", "th") }),
  },
  {
    id: "push",
    name: "Push in",
    asks: "Push in 1.5×: what is left?",
    fields: [
      ...size("w", "h", "source", ["3840", "2160"], "/source/raster"),
      ...size("tw", "th", "frame", ["1920", "1080"], "/delivery/raster"),
      { key: "zoom", label: "push in", first: "1.5", unit: "×", at: ["/framing/zoom"] },
    ],
    request: (of) =>
      request({
        kind: "conversion",
        source: { raster: pair(of, "w", "h") },
        delivery: { raster: pair(of, "tw", "th") },
        framing: { method: "fill", zoom: text(of, "zoom") },
      }),
  },
  {
    id: "rates",
    name: "Rates",
    asks: "60 shown at 25: what happens?",
    fields: [
      { key: "from", label: "shot at", first: "60", unit: "fps", at: ["/from"] },
      { key: "to", label: "shown at", first: "25", unit: "fps", at: ["/to"] },
      {
        key: "intent",
        label: "keep",
        first: "real_time",
        at: ["/intent"],
        options: [
          ["real_time", "the running time"],
          ["every_frame", "every frame"],
        ],
      },
    ],
    request: (of) =>
      request({ kind: "cadence", from: text(of, "from"), to: text(of, "to"), intent: of.intent }),
  },
  {
    id: "sphere",
    name: "Sphere",
    asks: "5760 wide: how high, how fine?",
    fields: [
      { key: "w", label: "width of one eye", first: "5760", unit: "px", at: ["/width", ""] },
      { key: "across", label: "degrees across", first: "360", unit: "°", at: ["/span/0", "/span"] },
      { key: "up", label: "degrees up", first: "180", unit: "°", at: ["/span/1"] },
      {
        key: "layout",
        label: "eyes",
        first: "mono",
        at: ["/layout"],
        options: [
          ["mono", "mono"],
          ["top_bottom", "top and bottom"],
          ["side_by_side", "side by side"],
        ],
      },
      { key: "rate", label: "frame rate", first: "30", unit: "fps", at: ["/rate"], empty: "open" },
      { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
    ],
    request: (of) =>
      request({
        kind: "sphere_frame",
        width: whole(of.w ?? ""),
        span: [text(of, "across"), text(of, "up")],
        layout: of.layout,
        step: whole(of.step ?? ""),
        rate: optional(of, "rate"),
      }),
  },
  {
    id: "view",
    name: "View of a sphere",
    asks: "90° out of 5.7K: how sharp?",
    fields: [
      ...size("w", "h", "eye", ["5760", "2880"], "/eye"),
      ...size("vw", "vh", "view", ["1920", "1080"], "/view"),
      { key: "fov", label: "field of view", first: "90", unit: "°", at: ["/fov"] },
      { key: "yaw", label: "yaw, right", first: "0", unit: "°", at: ["/yaw"] },
      { key: "pitch", label: "pitch, up", first: "0", unit: "°", at: ["/pitch"] },
      { key: "roll", label: "roll, clockwise", first: "0", unit: "°", at: ["/roll"] },
    ],
    request: (of) =>
      request({
        kind: "sphere_view",
        eye: pair(of, "w", "h"),
        view: pair(of, "vw", "vh"),
        fov: text(of, "fov"),
        yaw: text(of, "yaw"),
        pitch: text(of, "pitch"),
        roll: text(of, "roll"),
      }),
  },
  {
    id: "place",
    name: "Picture on a sphere",
    asks: "60° wide on 5.7K: how many pixels?",
    fields: [
      ...size("w", "h", "eye", ["5760", "2880"], "/eye"),
      ...size("pw", "ph", "picture", ["1920", "1080"], "/picture"),
      { key: "degrees", label: "width on the sphere", first: "60", unit: "°", at: ["/width_degrees"] },
      { key: "longitude", label: "longitude", first: "0", unit: "°", at: ["/longitude"] },
      { key: "latitude", label: "latitude", first: "0", unit: "°", at: ["/latitude"] },
      { key: "roll", label: "roll, clockwise", first: "0", unit: "°", at: ["/roll"] },
    ],
    request: (of) =>
      request({
        kind: "sphere_place",
        eye: pair(of, "w", "h"),
        picture: pair(of, "pw", "ph"),
        width_degrees: text(of, "degrees"),
        longitude: text(of, "longitude"),
        latitude: text(of, "latitude"),
        roll: text(of, "roll"),
      }),
  },
  {
    id: "decoder",
    name: "Decoder level",
    asks: "Which level does a decoder need?",
    fields: [
      ...size("w", "h", "frame", ["3840", "1920"], "/frame"),
      { key: "rate", label: "frame rate", first: "30", unit: "fps", at: ["/rate"] },
    ],
    request: (of) => request({ kind: "levels", frame: pair(of, "w", "h"), rate: text(of, "rate") }),
  },
  {
    id: "bits",
    name: "File size",
    asks: "90 s at 12 Mbit/s: how big?",
    fields: [
      ...size("w", "h", "frame", ["1920", "1080"], "/frame"),
      { key: "rate", label: "frame rate", first: "25", unit: "fps", at: ["/rate"] },
      { key: "seconds", label: "running time", first: "90", unit: "s", at: ["/seconds"] },
      { key: "video", label: "picture", first: "12", unit: "Mbit/s", at: ["/video_mbps"] },
      { key: "audio", label: "sound", first: "192", unit: "kbit/s", at: ["/audio_kbps"] },
    ],
    request: (of) =>
      request({
        kind: "weight",
        frame: pair(of, "w", "h"),
        rate: text(of, "rate"),
        seconds: text(of, "seconds"),
        video_mbps: text(of, "video"),
        audio_kbps: text(of, "audio"),
      }),
  },
  {
    id: "screen",
    name: "On a screen",
    asks: "2.00 in HD on a phone?",
    fields: [
      ...size("w", "h", "frame", ["1920", "1080"], "/delivery/raster"),
      {
        key: "ratio",
        label: "visible ratio",
        first: "2.00",
        unit: ": 1",
        at: ["/delivery/picture_ratio"],
        empty: "whole picture",
      },
      ...size("sw", "sh", "screen", ["2340", "1080"], "/screen"),
      {
        key: "show",
        label: "player",
        first: "fit",
        at: ["/show"],
        options: [
          ["fit", "shows all"],
          ["fill", "fills the screen"],
        ],
      },
    ],
    request: (of) =>
      request({
        kind: "viewing",
        delivery: { raster: pair(of, "w", "h"), picture_ratio: optional(of, "ratio") },
        screen: pair(of, "sw", "sh"),
        show: of.show,
      }),
  },
];

/** The entries of a family, those of the address over the first ones. */
export function entriesOf(family: Family, search: URLSearchParams): Entries {
  return Object.fromEntries(family.fields.map(({ key, first }) => [key, search.get(key) ?? first]));
}

/** The address of an answer: the family, and what differs from its first entries. */
export function addressOf(family: Family, entries: Entries): URLSearchParams {
  const search = new URLSearchParams({ of: family.id });
  for (const { key, first } of family.fields) {
    const value = entries[key];
    if (value !== undefined && value !== first) search.set(key, value);
  }
  return search;
}

/** The family and the entries that ask for a request in plain words. */
export function fromRequest(asked: Record<string, unknown>): URLSearchParams | undefined {
  const of = (name: string) => asked[name];
  const sides = (value: unknown, width: string, height: string) =>
    Array.isArray(value) ? { [width]: String(value[0]), [height]: String(value[1]) } : {};
  const known = (fields: Record<string, unknown>): Entries =>
    Object.fromEntries(
      Object.entries(fields)
        .filter(([, value]) => value !== undefined && value !== null)
        .map(([key, value]) => [key, String(value)]),
    );
  const delivery = (of("delivery") ?? {}) as Record<string, unknown>;
  const kinds: Record<string, [FamilyId, Entries]> = {
    extraction: [
      "ratio",
      known({ ...sides(of("container"), "w", "h"), ratio: of("ratio"), keep: of("keep") }),
    ],
    desqueeze:
      (of("pixel_aspect") ?? "1") !== "1"
        ? ["pixels", known({ ...sides(of("raster"), "w", "h"), aspect: of("pixel_aspect") })]
        : [
            "squeeze",
            known({
              ...sides(of("raster"), "w", "h"),
              squeeze: of("squeeze"),
              target: of("target_ratio") ?? "",
            }),
          ],
    scale: ["scale", known({ ...sides(of("from"), "w", "h"), ...sides(of("to"), "tw", "th") })],
    cadence: ["rates", known({ from: of("from"), to: of("to"), intent: of("intent") })],
    sphere_frame: ["sphere", known({ w: of("width"), rate: of("rate") ?? "" })],
    sphere_view: [
      "view",
      known({ ...sides(of("eye"), "w", "h"), ...sides(of("view"), "vw", "vh"), fov: of("fov") }),
    ],
    levels: ["decoder", known({ ...sides(of("frame"), "w", "h"), rate: of("rate") })],
    weight: [
      "bits",
      known({
        ...sides(of("frame"), "w", "h"),
        rate: of("rate"),
        seconds: of("seconds"),
        video: of("video_mbps"),
        audio: of("audio_kbps"),
      }),
    ],
    viewing: [
      "screen",
      known({
        ...sides(delivery.raster, "w", "h"),
        ratio: delivery.picture_ratio ?? "",
        ...sides(of("screen"), "sw", "sh"),
      }),
    ],
  };
  const found = kinds[String(of("kind"))];
  const family = found && FAMILIES.find(({ id }) => id === found[0]);
  return family && found ? addressOf(family, found[1]) : undefined;
}
