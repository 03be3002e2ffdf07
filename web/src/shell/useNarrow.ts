import { useSyncExternalStore } from "react";

const WIDTHS = { head: "47.5em", phone: "30em" };

/** Whether the window is too narrow for all of the head, or as narrow as a phone, in the letters that it is read in. */
export function useNarrow(than: keyof typeof WIDTHS): boolean {
  const query = () => matchMedia(`(max-width: ${WIDTHS[than]})`);
  return useSyncExternalStore(
    (changed) => {
      const asked = query();
      asked.addEventListener("change", changed);
      return () => asked.removeEventListener("change", changed);
    },
    () => query().matches,
  );
}
