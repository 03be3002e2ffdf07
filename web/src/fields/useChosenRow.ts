import { type KeyboardEvent, useRef } from "react";
import { useSearchParams } from "react-router";

/**
 * Which record of a list is chosen, kept in the address; the arrow keys move. Where the list is
 * empty, or "new" is chosen, a new record is being entered and none is chosen.
 */
export function useChosenRow<R extends { id: number }>(name: string, records: R[]) {
  const [search, setSearch] = useSearchParams();
  const wanted = search.get(name);
  const adding = wanted === "new" || records.length === 0;
  const chosen = adding ? undefined : (records.find((each) => String(each.id) === wanted) ?? records[0]);
  const choose = (id: number | "new") => setSearch({ [name]: String(id) }, { replace: true });
  const rows = useRef<HTMLTableSectionElement>(null);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    const next = chosen && step ? records[records.indexOf(chosen) + step] : undefined;
    if (!next) return;
    event.preventDefault();
    choose(next.id);
    rows.current?.querySelector<HTMLElement>(`[data-id="${next.id}"]`)?.focus();
  };
  /** What a row of the list needs. */
  const row = (record: R) => ({
    "data-id": record.id,
    tabIndex: record === chosen ? 0 : -1,
    "aria-selected": record === chosen,
    onClick: () => choose(record.id),
    onFocus: () => choose(record.id),
  });
  return { chosen, choose, leave: () => setSearch({}), body: { ref: rows, onKeyDown }, row };
}
