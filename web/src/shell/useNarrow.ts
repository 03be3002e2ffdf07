import { useSyncExternalStore } from "react";

const narrow = () => matchMedia("(max-width: 47.5em)");

/** Whether the window is as narrow as a phone, in the letters that it is read in. */
export function useNarrow(): boolean {
  return useSyncExternalStore(
    (changed) => {
      const query = narrow();
      query.addEventListener("change", changed);
      return () => query.removeEventListener("change", changed);
    },
    () => narrow().matches,
  );
}
