import { bits } from "./bits";
import type { Calculation, Entries } from "./calculation";
import { decoder } from "./decoder";
import { pixels } from "./pixels";
import { place } from "./place";
import { proxy } from "./proxy";
import { push } from "./push";
import { rates } from "./rates";
import { ratio } from "./ratio";
import { scale } from "./scale";
import { screen } from "./screen";
import { sphere } from "./sphere";
import { squeeze } from "./squeeze";
import { view } from "./view";

export type { CalcRequest, Calculation, Entries, Framing } from "./calculation";
export type { Line } from "./lines";

/** In the order in which they are offered. */
export const CALCULATIONS: readonly [Calculation, ...Calculation[]] = [
  ratio,
  squeeze,
  pixels,
  scale,
  push,
  proxy,
  rates,
  sphere,
  view,
  place,
  decoder,
  bits,
  screen,
];

/** The calculation of an id; the first one where there is none. */
export const calculationOf = (id: string | null) =>
  CALCULATIONS.find((each) => each.id === id) ?? CALCULATIONS[0];

/** The entries of a calculation, those of the address over the first ones. */
export function entriesOf({ fields }: Calculation, search: URLSearchParams): Entries {
  return Object.fromEntries(fields.map(({ key, first }) => [key, search.get(key) ?? first]));
}

/** The address of an answer: the calculation, and what differs from its first entries. */
export function addressOf({ id, fields }: Calculation, entries: Entries): URLSearchParams {
  const search = new URLSearchParams({ of: id });
  for (const { key, first } of fields) {
    const value = entries[key];
    if (value !== undefined && value !== first) search.set(key, value);
  }
  return search;
}

/** The calculation and the entries that ask for a request that was made elsewhere. */
export function addressFor(request: Record<string, unknown>): URLSearchParams | undefined {
  for (const each of CALCULATIONS.filter(({ kind }) => kind === request.kind)) {
    const found = each.entriesFor?.(request);
    if (!found) continue;
    const said = Object.entries(found).filter(([, value]) => value !== undefined && value !== null);
    return addressOf(each, Object.fromEntries(said.map(([key, value]) => [key, String(value)])));
  }
  return undefined;
}
