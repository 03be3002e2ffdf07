import { useSyncExternalStore } from "react";

const narrow = () => matchMedia("(max-width: 760px)");

/** Whether the window is as narrow as a phone. */
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
