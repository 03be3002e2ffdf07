import type { Proof, Resampling } from "../../api/client";
import { METHODS } from "../../keys/methods";
import type { Proved } from "./proved";

/** How one outcome is worked out: by the framing that counts, or by a method of its own. */
export interface Variant {
  method: keyof typeof METHODS | null;
  how: Resampling;
}

/** The letters by which variants are called. */
export const LETTERS = ["A", "B", "C", "D"] as const;
export const MOST_VARIANTS = LETTERS.length;

export const FILTERS: Record<Resampling["filter"], string> = {
  lanczos3: "Lanczos",
  mitchell: "Mitchell",
  "catmull-rom": "Catmull-Rom",
  bilinear: "bilinear",
  area: "area",
  nearest: "nearest",
};

export const TRANSFERS: Record<NonNullable<Resampling["linear"]>, string> = {
  srgb: "sRGB",
  bt1886: "BT.1886",
  bt709: "BT.709",
};

const plain: Resampling = {
  filter: "lanczos3",
  linear: null,
  steps: "one",
  smoothing: "none",
  sharpening: null,
};

/** What is looked at first: what is taken, and what most people weigh against it. */
export function firstVariants({ taken, scale }: Pick<Proved, "taken" | "scale">): Variant[] {
  const enlarged = Math.max(scale.x.value, scale.y.value) > 1;
  const first = taken ?? plain;
  const others: Resampling[] = enlarged
    ? [plain, { ...plain, sharpening: { radius: "1", amount: "0.4" } }, { ...plain, filter: "bilinear" }]
    : [plain, { ...plain, filter: "mitchell" }, { ...plain, filter: "area" }];
  const all = [first, ...others.filter((how) => !sameHow(how, first))];
  return all.slice(0, 3).map((how) => ({ method: null, how }));
}

export function sameHow(one: Resampling, other: Resampling): boolean {
  return queryOf({ method: null, how: one }).toString() === queryOf({ method: null, how: other }).toString();
}

/** A variant as the query of an outcome, and as the body of a request. */
export function fieldsOf({ method, how }: Variant): Proof {
  return {
    method,
    filter: how.filter,
    linear: how.linear ?? null,
    steps: how.steps,
    smoothing: how.smoothing,
    radius: how.sharpening?.radius ?? "1",
    amount: how.sharpening?.amount ?? null,
  };
}

export function queryOf(variant: Variant): URLSearchParams {
  const given = Object.entries(fieldsOf(variant)).filter(
    ([, value]) => value !== null && value !== undefined,
  );
  return new URLSearchParams(given.map(([name, value]) => [name, String(value)]));
}

/** A variant in a few words. */
export function wordsOf({ method, how }: Variant): string {
  const words = [FILTERS[how.filter]];
  if (method) words.unshift(METHODS[method].name);
  if (how.linear) words.push(`in light (${TRANSFERS[how.linear]})`);
  if (how.steps === "whole_first") words.push("whole first");
  if (how.smoothing !== "none") words.push(how.smoothing === "median3" ? "median 3×3" : "median 5×5");
  if (how.sharpening) words.push(`sharpened ${how.sharpening.amount}`);
  return words.join(", ");
}
