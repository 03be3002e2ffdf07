import type { Board, Crossing, Source } from "../../api/client";
import { crossingAt } from "../../api/queries";
import { apartText } from "../../drawing/summary";
import { hasWords, wordsIn } from "../../fields/words";

/** Which crossings are asked for; all of those that are set must hold. */
export interface Filters {
  /** Words that the source must have. */
  words: string;
  notClean: boolean;
  enlarged: boolean;
  byHand: boolean;
  /** Only what lies elsewhere than where it was imported. */
  moved: boolean;
  /** Cut more than so many percent; empty for any. */
  cutOver: string;
}

export const NO_FILTERS: Filters = {
  words: "",
  notClean: false,
  enlarged: false,
  byHand: false,
  moved: false,
  cutOver: "",
};

export const SORTS = [
  ["entry", "as entered"],
  ["name", "by name"],
  ["size", "largest first"],
  ["ratio", "widest first"],
  ["worst", "worst first"],
] as const;
export type Sort = (typeof SORTS)[number][0];

export const GROUPINGS = [
  ["none", "no grouping"],
  ["alike", "similar sources"],
  ["raster", "by stored size"],
  ["rate", "by rate"],
] as const;
export type Grouping = (typeof GROUPINGS)[number][0];

/** A line of the board: a heading, or a source by its place. */
export type Line = { heading: string; sources: number } | { row: number };

/** The percent that a crossing may lose, if any is asked for; undefined for what is no number. */
function limitOf({ cutOver }: Filters): number | undefined {
  const text = cutOver.trim().replace("%", "");
  const value = Number(text);
  return text === "" || !Number.isFinite(value) || value < 0 || value > 100 ? undefined : value;
}

export function isFiltering(filters: Filters): boolean {
  return (
    filters.notClean || filters.enlarged || filters.byHand || filters.moved || limitOf(filters) !== undefined
  );
}

/** Whether a crossing is one of those that are asked for. */
export function matches(crossing: Crossing, filters: Filters): boolean {
  const limit = limitOf(filters);
  return (
    (!filters.notClean || crossing.severity === "stop" || crossing.severity === "caution") &&
    (!filters.enlarged ||
      crossing.findings.some((code) => code === "enlarged" || code === "sphere_enlarged")) &&
    (!filters.byHand || crossing.speaker === "own") &&
    (!filters.moved || apartText(crossing.imported) !== undefined) &&
    (limit === undefined || (1 - crossing.kept) * 100 > limit)
  );
}

const WEIGHT = { stop: 3, caution: 2, note: 1 } as const;

function worst(crossings: readonly Crossing[]): number {
  let sum = 0;
  for (const { severity } of crossings) sum += severity === "stop" ? 1000 : severity === "caution" ? 1 : 0;
  return sum + Math.max(0, ...crossings.map(({ severity }) => (severity ? WEIGHT[severity] / 10 : 0)));
}

function groupOf({ alike, values }: Source, grouping: Grouping): string {
  if (grouping === "alike") return alike;
  if (grouping === "raster") return values.geometry.raster.join("×");
  return values.rate ? `${values.rate} fps` : "rate unknown";
}

/** The lines of the board in order, and the crossings that match and count. */
export function arrange(board: Board, filters: Filters, sort: Sort, grouping: Grouping) {
  const { sources, frames } = board;
  const wanted = wordsIn(filters.words);
  const filtering = isFiltering(filters);
  const counted: Crossing[] = [];
  const rows: { row: number; weight: number }[] = [];
  sources.forEach((source, row) => {
    if (!hasWords(`${source.values.name} ${source.alike}`, wanted)) return;
    const crossings = frames
      .map((_, column) => crossingAt(board, row, column))
      .filter((each) => each !== undefined);
    const matching = filtering ? crossings.filter((crossing) => matches(crossing, filters)) : crossings;
    if (filtering && matching.length === 0) return;
    counted.push(...matching);
    rows.push({ row, weight: sort === "worst" ? worst(matching) : 0 });
  });
  const at = (row: number) => sources[row] as Source;
  const area = (row: number) => at(row).values.geometry.raster.reduce((a, b) => a * b, 1);
  rows.sort((a, b) => {
    const order = {
      entry: 0,
      name: at(a.row).values.name.localeCompare(at(b.row).values.name, "en", { numeric: true }),
      size: area(b.row) - area(a.row),
      ratio: at(b.row).shape.upright.ratio.value - at(a.row).shape.upright.ratio.value,
      worst: b.weight - a.weight,
    }[sort];
    return order || a.row - b.row;
  });
  if (grouping === "none") return { lines: rows.map(({ row }): Line => ({ row })), counted };
  const groups = new Map<string, number[]>();
  for (const { row } of rows) {
    const heading = groupOf(at(row), grouping);
    groups.set(heading, [...(groups.get(heading) ?? []), row]);
  }
  const lines: Line[] = [];
  for (const [heading, members] of groups) {
    lines.push({ heading, sources: members.length });
    for (const row of members) lines.push({ row });
  }
  return { lines, counted };
}
