import { api, type ListReading, type ListRow, type Role, settled } from "../../api/client";

/** What each column may hold, as the screen calls it. */
export const ROLES: readonly (readonly [Role, string])[] = [
  ["name", "name"],
  ["size", "stored size"],
  ["width", "stored width"],
  ["height", "stored height"],
  ["pixel_aspect", "pixel aspect"],
  ["squeeze", "squeeze"],
  ["rotation", "rotation"],
  ["rate", "rate"],
  ["scan", "scan"],
  ["signal_range", "signal range"],
  ["projection", "flat or sphere"],
  ["insets", "insets l/t/r/b"],
  ["left", "left inset"],
  ["top", "top inset"],
  ["right", "right inset"],
  ["bottom", "bottom inset"],
  ["note", "note"],
];

/** The longest text that the server reads. */
export const LONGEST = 30_000_000;

export function readText(text: string): Promise<ListReading> {
  return settled(api.POST("/api/v1/list", { body: { text } }));
}

export function readCells(
  columns: readonly (Role | null)[],
  rows: readonly Pick<ListRow, "line" | "cells">[],
) {
  return settled(
    api.POST("/api/v1/list", {
      body: { columns: [...columns], rows: rows.map(({ line, cells }) => ({ line, cells })) },
    }),
  );
}

/** The rows of a list that stands in a file. */
export function inFile<R extends { rows: ListRow[] }>(reading: R, file: string): R {
  const rows = reading.rows.map((row) => (row.origin ? { ...row, origin: { ...row.origin, file } } : row));
  return { ...reading, rows };
}

/** Rows kept aside as text that can be pasted again. */
export function asText(
  columns: readonly { heading: string; role?: Role | null }[],
  rows: readonly ListRow[],
): string {
  const heads = columns.map(({ heading, role }) => heading || role || "");
  return [heads, ...rows.map((row) => row.cells)].map((cells) => cells.join("\t")).join("\n");
}
