import { type MouseEvent, useRef, useState } from "react";
import { useLocation, useSearchParams } from "react-router";
import type { Handlers } from "../keys/stack";
import { useMay } from "../people/may";
import { useAddressNote } from "./useAddressNote";

interface Listed {
  id: number;
}

/** What a link to a list may bring along: the records that it picks. */
interface Along {
  picked?: readonly number[] | undefined;
}

/** The ids from one place to another, both included. */
export function between(ids: readonly number[], from: number, to: number): number[] {
  return ids.slice(Math.min(from, to), Math.max(from, to) + 1);
}

/**
 * Which records of a list are picked, and which of them is at hand: by click, with shift for a
 * range, with control for one more; by arrows, with shift for a range; control-A for all. The
 * address notes the one at hand. Where the list is empty, or "new" is wanted, none is.
 */
export function usePicked<R extends Listed>(
  name: string,
  records: readonly R[],
  shown: readonly R[] = records,
) {
  const plans = useMay("plan");
  const [search] = useSearchParams();
  const [wanted, setWanted] = useState(search.get(name));
  const { key, state } = useLocation();
  const [more, setMore] = useState<ReadonlySet<number>>(() => new Set((state as Along | null)?.picked));
  const anchor = useRef<number | null>(null);
  // A link to another record of the same screen, as the find box follows it.
  const seen = useRef(key);
  if (seen.current !== key) {
    seen.current = key;
    const to = search.get(name);
    if (to !== null) {
      setWanted(to);
      setMore(new Set());
    }
  }
  useAddressNote(wanted === null ? "" : `?${name}=${encodeURIComponent(wanted)}`);

  const adding = (wanted === "new" && plans) || records.length === 0;
  const here = adding
    ? undefined
    : (records.find((each) => String(each.id) === wanted) ?? shown[0] ?? records[0]);
  const picked = adding ? [] : records.filter((each) => each === here || more.has(each.id));
  const ids = shown.map((each) => each.id);
  const index = here ? ids.indexOf(here.id) : -1;

  const choose = (id: number | "new") => {
    anchor.current = null;
    setWanted(String(id));
    setMore(new Set());
  };
  const pick = (several: readonly number[]) => {
    const [first] = several;
    if (first === undefined) return;
    setWanted((now) => (several.includes(Number(now)) ? now : String(first)));
    setMore(new Set(several));
  };
  const extendTo = (to: number) => {
    const id = ids[to];
    if (id === undefined) return;
    const from =
      anchor.current !== null && ids.includes(anchor.current) ? ids.indexOf(anchor.current) : index;
    anchor.current = ids[from] ?? id;
    setWanted(String(id));
    setMore(new Set(between(ids, from, to)));
  };
  const onRowClick = (id: number, event: MouseEvent) => {
    if (event.shiftKey) extendTo(ids.indexOf(id));
    else if (event.ctrlKey || event.metaKey) {
      const next = new Set(picked.map((each) => each.id));
      if (next.has(id) && next.size > 1) next.delete(id);
      else next.add(id);
      setMore(next);
      const [first] = next;
      if (next.has(id)) setWanted(String(id));
      else if (first !== undefined && here?.id === id) setWanted(String(first));
    } else choose(id);
  };
  const stepOf = (key: string, page: number) => {
    const steps: Record<string, number> = {
      ArrowDown: index + 1,
      ArrowUp: index - 1,
      PageDown: index + page,
      PageUp: index - page,
      Home: 0,
      End: ids.length - 1,
    };
    return Math.max(0, Math.min(steps[key.replace("Shift+", "")] ?? index, ids.length - 1));
  };
  /** What the keys do in the list; a page has so many rows. */
  const commands = (page: number): Handlers => ({
    moveInList: (key) => {
      const id = ids[stepOf(key, page)];
      if (id === undefined) return false;
      choose(id);
      return true;
    },
    extendInList: (key) => extendTo(stepOf(key, page)),
    selectAll: () => setMore(new Set(ids)),
    back: () => {
      if (picked.length < 2 || !here) return false;
      choose(here.id);
      return true;
    },
  });
  return { here, index, picked, adding, choose, pick, leave: () => setWanted(null), onRowClick, commands };
}
