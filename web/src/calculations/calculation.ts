import type { ReactElement } from "react";
import type { Edit, FramingSet } from "../api/client";
import type { components } from "../api/schema";
import type { Box } from "../drawing/box";
import { asNumber } from "../drawing/numbers";
import { whole } from "../fields/Field";
import { valuesOf as frameValues, NEW_FRAME } from "../fields/frameDraft";
import { NEW_SOURCE, valuesOf as sourceValues } from "../fields/sourceDraft";
import type { Line } from "./lines";

export type CalcRequest = components["schemas"]["CalcRequest"];
type Result = components["schemas"]["CalcResult"];

/** The values of the fields, as they were typed. */
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
  /** The fields of both sides, of which this is one. */
  sides?: [width: string, height: string] | undefined;
}

/** What a drawing is made of: an answer with its entries, and its room. */
export interface Drawn<R> {
  result: R;
  entries: Entries;
  room: { width: number; height: number };
  /** Where in the room the drawing goes. */
  into: Box;
}

/** A source or a frame that an answer becomes. */
interface Part {
  as: "source" | "frame";
  edit: Edit;
}

/** How an answer frames a conversion: which one is still to be asked. */
export interface Framing {
  as: "framing";
  says: string;
  set: FramingSet;
  /** The sides of the source and of the frame that were asked about. */
  source: [string, string];
  frame: [string, string];
}

interface Definition<K extends Result["kind"], R> {
  id: string;
  name: string;
  /** The question that it answers. */
  asks: string;
  kind: K;
  fields: RuleField[];
  /** The request without its kind; the server says what is wrong with it. */
  request: (entries: Entries) => object;
  /** The lines of its answer, the question's own first. */
  lines: (result: R) => Line[];
  drawing: (drawn: Drawn<R>) => ReactElement;
  /** What of a project the answer becomes. */
  part?: (entries: Entries, result: R) => Part | Framing;
  /** Why it is so. */
  reason?: string;
  /** The entries for a request of its kind that was made elsewhere; nothing where another answers it. */
  entriesFor?: (request: Record<string, unknown>) => Record<string, unknown> | undefined;
}

/** A calculation of the slide rule: its fields, its request, its lines, its drawing. */
export interface Calculation extends Omit<Definition<Result["kind"], Result>, "lines" | "drawing" | "part"> {
  ask: (entries: Entries) => CalcRequest;
  /** Whether an answer is one of its kind. */
  lines: (result: Result) => Line[];
  drawing: (drawn: Drawn<Result>) => ReactElement | null;
  part: (entries: Entries, result: Result) => Part | Framing | undefined;
}

/** Makes a calculation of its parts; an answer of another kind has no lines, no drawing and is no part. */
export function calculation<K extends Result["kind"]>(
  definition: Definition<K, Extract<Result, { kind: K }>>,
): Calculation {
  type R = Extract<Result, { kind: K }>;
  const { kind, request, lines, drawing, part, ...rest } = definition;
  const isOurs = (result: Result): result is R => result.kind === kind;
  return {
    ...rest,
    kind,
    request,
    ask: (entries) => JSON.parse(JSON.stringify({ kind, ...request(entries) })) as CalcRequest,
    lines: (result) => (isOurs(result) ? lines(result) : []),
    drawing: ({ result, ...drawn }) => (isOurs(result) ? drawing({ ...drawn, result }) : null),
    part: (entries, result) => (isOurs(result) ? part?.(entries, result) : undefined),
  };
}

export const STEPS = ["1", "2", "4", "8", "16"].map((step) => [step, `${step} px`] as const);
const ROUNDINGS = [
  ["down", "down"],
  ["nearest", "nearest"],
  ["up", "up"],
] as const;

/** The fields of a rounding. */
export const roundingFields = (first: "down" | "nearest"): RuleField[] => [
  { key: "step", label: "round to", first: "2", at: ["/step"], options: STEPS },
  { key: "round", label: "rounding", first, at: ["/round"], options: ROUNDINGS },
];

/** The rounding of a request. */
export const rounding = (entries: Entries) => ({ step: wholeOf(entries, "step"), round: entries.round });

/** The fields of a size. */
export const sizeFields = (
  width: string,
  height: string,
  of: string,
  first: [string, string],
  pointer: string,
): RuleField[] => [
  {
    key: width,
    label: `${of} width`,
    first: first[0],
    unit: "px",
    at: [`${pointer}/0`, pointer],
    sides: [width, height],
  },
  {
    key: height,
    label: `${of} height`,
    first: first[1],
    unit: "px",
    at: [`${pointer}/1`],
    sides: [width, height],
  },
];

export const pair = (entries: Entries, width: string, height: string) => [
  whole(entries[width] ?? ""),
  whole(entries[height] ?? ""),
];
export const text = (entries: Entries, key: string) => (entries[key] ?? "").trim();
export const optional = (entries: Entries, key: string) => text(entries, key) || undefined;
export const wholeOf = (entries: Entries, key: string) => whole(entries[key] ?? "");

/** Both sides of a size, as they were typed. */
export const sides = (entries: Entries, width = "w", height = "h"): [string, string] => [
  text(entries, width),
  text(entries, height),
];

/** A size as a box to be drawn. */
export const box = (entries: Entries, width = "w", height = "h"): Box => ({
  x: 0,
  y: 0,
  width: asNumber(entries[width]) || 1,
  height: asNumber(entries[height]) || 1,
});

/** The sides of a request as entries. */
export const sidesOf = (value: unknown, width = "w", height = "h") =>
  Array.isArray(value) ? { [width]: value[0], [height]: value[1] } : {};

/** An answer as a source. */
export const asSource = (entries: Entries, name: string, more: object): Part => {
  const [width, height] = sides(entries);
  return {
    as: "source",
    edit: { edit: "add_sources", values: [sourceValues({ ...NEW_SOURCE, width, height, name, ...more })] },
  };
};

/** An answer as a frame. */
export const asFrame = (
  [width, height]: readonly (number | string)[],
  name: string,
  more: object = {},
): Part => ({
  as: "frame",
  edit: {
    edit: "add_frames",
    values: [frameValues({ ...NEW_FRAME, width: String(width), height: String(height), name, ...more })],
  },
});
