import { type KeyboardEvent, useState } from "react";
import { useSearchParams } from "react-router";
import { useAddressNote } from "../shell/useAddressNote";

/**
 * Which record of a list is chosen; the arrow keys move. The address follows when the keys rest.
 * Where the list is empty, or "new" is chosen, a new record is being entered and none is chosen.
 */
export function useChosenRow<R extends { id: number }>(name: string, records: R[]) {
  const [search] = useSearchParams();
  const [wanted, setWanted] = useState(search.get(name));
  useAddressNote(wanted === null ? "" : `?${name}=${encodeURIComponent(wanted)}`);

  const adding = wanted === "new" || records.length === 0;
  const chosen = adding ? undefined : (records.find((each) => String(each.id) === wanted) ?? records[0]);
  const choose = (id: number | "new") => setWanted(String(id));
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    // From the row that has the focus: it moves at once, however fast the keys come.
    const row = event.target instanceof HTMLElement ? event.target : undefined;
    const next = event.key === "ArrowDown" ? row?.nextElementSibling : undefined;
    const before = event.key === "ArrowUp" ? row?.previousElementSibling : undefined;
    const to = next ?? before;
    if (!row?.dataset.id || !(to instanceof HTMLElement)) return;
    event.preventDefault();
    to.focus();
  };
  /** What a row of the list needs. */
  const row = (record: R) => ({
    "data-id": record.id,
    tabIndex: record === chosen ? 0 : -1,
    "aria-selected": record === chosen,
    onClick: () => choose(record.id),
    onFocus: () => choose(record.id),
  });
  return { chosen, choose, leave: () => setWanted(null), body: { onKeyDown }, row };
}
