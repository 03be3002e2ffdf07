import type { components } from "../api/schema";
import { whole } from "./Field";
import { orNull, textOf } from "./SignalFields";

type Schemas = components["schemas"];
export type FileValues = Schemas["FileValues"];
export type FileChoices = Schemas["FileChoices"];
export type Codec = Schemas["CodecEntry"];
type Profile = Schemas["ProfileEntry"];
type SoundCoding = Schemas["SoundCoding"];

/** How a file is made, as its fields show it. */
export interface FileDraft {
  container: FileValues["container"];
  codec: FileValues["codec"];
  profile: string;
  depth: number;
  chroma: FileValues["chroma"];
  /** Empty for the lowest that does. */
  level: string;
  quality: string;
  average: string;
  highest: string;
  /** Empty for what the encoder takes. */
  keyframes: string;
  coding: SoundCoding;
  soundRate: string;
  bits: string;
  kbps: string;
  /** Empty for as many as the source has. */
  channels: string;
}

export function fileDraftOf(file: FileValues): FileDraft {
  const { sound } = file;
  return {
    container: file.container,
    codec: file.codec,
    profile: file.profile,
    depth: file.depth,
    chroma: file.chroma,
    level: file.level ?? "",
    quality: textOf(file.constant_quality),
    average: textOf(file.average_mbps),
    highest: textOf(file.highest_mbps),
    keyframes: textOf(file.keyframe_distance),
    coding: sound.coding,
    soundRate: textOf(sound.rate),
    bits: textOf(sound.bits),
    kbps: textOf(sound.kbps),
    channels: textOf(sound.channels),
  };
}

/** A number as it was typed; what is none goes to the server as it is, which says what would be right. */
const number = (text: string) => (text.trim() === "" ? null : whole(text));

export function fileOf(draft: FileDraft): FileValues {
  const { coding } = draft;
  return {
    container: draft.container,
    codec: draft.codec,
    profile: draft.profile,
    depth: draft.depth,
    chroma: draft.chroma,
    level: orNull(draft.level),
    constant_quality: number(draft.quality),
    average_mbps: orNull(draft.average),
    highest_mbps: orNull(draft.highest),
    keyframe_distance: number(draft.keyframes),
    sound: {
      coding,
      rate: coding === "pcm" || coding === "aac" ? number(draft.soundRate) : null,
      bits: coding === "pcm" ? number(draft.bits) : null,
      kbps: coding === "aac" ? orNull(draft.kbps) : null,
      channels: coding === "pcm" || coding === "aac" ? number(draft.channels) : null,
    },
  };
}

/** The profile of a codec, its first where it has none of that word. */
export function profileOf(codec: Codec | undefined, word: string): Profile | undefined {
  return codec?.profiles.find(({ profile }) => profile === word) ?? codec?.profiles[0];
}

/** The draft with what its codec, profile and container do not take put right; nothing else changes. */
export function fitting(draft: FileDraft, { codecs, containers }: FileChoices): FileDraft {
  const codec = codecs.find(({ codec }) => codec === draft.codec);
  const profile = profileOf(codec, draft.profile);
  if (!codec || !profile) return draft;
  const one = <T>(value: T, among: readonly T[]): T => (among.includes(value) ? value : (among[0] ?? value));
  const container = one(draft.container, codec.containers as FileDraft["container"][]);
  const sounds = containers.find((each) => each.container === container)?.sounds ?? [];
  const coding = draft.coding === "none" ? draft.coding : one(draft.coding, sounds as SoundCoding[]);
  const average = codec.has_rates ? draft.average : "";
  const byQuality = codec.worst_quality !== null && codec.worst_quality !== undefined;
  return {
    ...draft,
    container,
    profile: profile.profile,
    depth: one(draft.depth, profile.depths),
    chroma: one(draft.chroma, profile.chromas as FileDraft["chroma"][]),
    level: codec.levels.includes(draft.level) ? draft.level : "",
    quality: byQuality && average === "" ? draft.quality || "18" : byQuality ? draft.quality : "",
    average: codec.has_rates && !byQuality && average === "" ? "50" : average,
    highest: codec.has_rates ? draft.highest : "",
    keyframes: codec.has_keyframes ? draft.keyframes : "",
    coding,
    soundRate: coding === "pcm" || coding === "aac" ? draft.soundRate || "48000" : "",
    bits: coding === "pcm" ? draft.bits || "24" : "",
    kbps: coding === "aac" ? draft.kbps || "320" : "",
  };
}
