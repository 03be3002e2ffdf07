import { useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Board } from "../../api/client";
import { useAddressNote } from "../../fields/useAddressNote";

/**
 * Where one is on the board: a row and a column among those that are shown; -1 is the head, where
 * the method of a whole row, a whole column or the whole board is set.
 */
export interface Place {
  row: number;
  column: number;
}

export const key = (source: number, frame: number) => `${source}-${frame}`;

/** What is chosen on the board. It follows every key at once; the address notes it. */
export function useBoardPlace(
  { sources, frames }: Board,
  rows: readonly number[],
  /** Whether a conversion is among those that are shown. */
  isShown: (pair: string) => boolean,
) {
  const [search] = useSearchParams();
  const find = (list: readonly { id: number }[], name: string) =>
    list.findIndex((each) => String(each.id) === search.get(name));
  const [wanted, setWanted] = useState(() => {
    const row = find(sources, "source");
    const column = find(frames, "frame");
    // The source's own place, so that sorting does not move the choice to another.
    return { source: sources[Math.max(0, row)]?.id, head: false, column: Math.max(0, column) };
  });
  const [all, setPicked] = useState<ReadonlySet<string>>(new Set());
  const anchor = useRef<Place | null>(null);

  // Where its row was filtered away, the one that has taken its place is at hand.
  const lastIndex = useRef(0);
  const index = rows.findIndex((row) => sources[row]?.id === wanted.source);
  if (index >= 0) lastIndex.current = index;
  const row = wanted.head
    ? -1
    : Math.max(0, Math.min(index >= 0 ? index : lastIndex.current, rows.length - 1));
  // What is not shown is not changed either.
  const picked = useMemo(() => new Set([...all].filter(isShown)), [all, isShown]);
  const column = Math.min(wanted.column, frames.length - 1);
  const sourceAt = (at: number) => sources[rows[at] ?? -1];
  const within = (place: Place): Place => ({
    row: Math.max(-1, Math.min(place.row, rows.length - 1)),
    column: Math.max(-1, Math.min(place.column, frames.length - 1)),
  });
  const stand = ({ row, column }: Place) =>
    setWanted((now) => ({ source: row < 0 ? now.source : sourceAt(row)?.id, head: row < 0, column }));

  const select = (to: Place) => {
    anchor.current = null;
    setPicked(new Set());
    stand(within(to));
  };
  /** Everything from where the range began to here. */
  const extend = (to: Place, allowed: (row: number, column: number) => boolean) => {
    const end = within(to);
    const from = anchor.current ?? { row: Math.max(0, row), column: Math.max(0, column) };
    anchor.current = from;
    const next = new Set<string>();
    for (let r = Math.min(from.row, end.row); r <= Math.max(from.row, end.row); r += 1) {
      for (let c = Math.min(from.column, end.column); c <= Math.max(from.column, end.column); c += 1) {
        const [source, frame] = [sourceAt(r), frames[c]];
        if (source && frame && allowed(r, c)) next.add(key(source.id, frame.id));
      }
    }
    setPicked(next);
    stand({ row: Math.max(0, end.row), column: Math.max(0, end.column) });
  };
  const toggle = (to: Place) => {
    const [source, frame] = [sourceAt(to.row), frames[to.column]];
    if (!source || !frame) return;
    const next = new Set(picked);
    const [here, there] = [sourceAt(row), frames[column]];
    if (next.size === 0 && here && there) next.add(key(here.id, there.id));
    const each = key(source.id, frame.id);
    if (next.has(each)) next.delete(each);
    else next.add(each);
    setPicked(next);
    stand(to);
  };
  const source = sourceAt(row);
  const frame = frames[column];
  const note = [source && `source=${source.id}`, frame && `frame=${frame.id}`].filter(Boolean).join("&");
  const writeNote = useAddressNote(note ? `?${note}` : "");
  return { row, column, source, frame, picked, setPicked, select, extend, toggle, writeNote };
}
