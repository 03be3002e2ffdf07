import { here, keep, kept } from "../../kept";
import type { KindId, Own } from "./kinds";

const KEPT = "ratiomet.tables";
const NONE: Own = { sizes: [], numbers: [] };

const isSize = (value: unknown): value is [number, number] =>
  Array.isArray(value) && value.length === 2 && value.every((side) => Number.isInteger(side));

type All = Partial<Record<KindId, Partial<Own>>>;

const isAll = (value: unknown): value is All => typeof value === "object" && value !== null;

const all = () => kept<All>(here, KEPT, {}, isAll);

/** What was added to a table in this browser. */
export function keptRows(of: KindId): Own {
  const { sizes, numbers } = all()[of] ?? NONE;
  return {
    sizes: Array.isArray(sizes) ? sizes.filter(isSize) : [],
    numbers: Array.isArray(numbers) ? numbers.filter((number) => typeof number === "string") : [],
  };
}

export function keepRows(of: KindId, own: Own) {
  keep(here, KEPT, { ...all(), [of]: own });
}

/** The rows with one more, read as a size where two numbers stand with a cross between them. */
export function withOne(own: Own, text: string): Own {
  const found = /^\s*(\d{1,6})\s*[x×*]\s*(\d{1,6})\s*$/i.exec(text);
  if (!found) return { ...own, numbers: [...own.numbers, text.trim().replace(/[x×]$/i, "")] };
  return { ...own, sizes: [...own.sizes, [Number(found[1]), Number(found[2])]] };
}
