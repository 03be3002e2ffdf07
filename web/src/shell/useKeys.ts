import { useEffect, useRef } from "react";

/**
 * Keys of a whole screen. They rest while somebody types, while a dialog is open, and with a
 * modifier held that belongs to the browser.
 */
export function useKeys(
  onKey: (key: string, event: KeyboardEvent) => boolean,
  /** Whether arrow keys come through with the control key held. */
  { ctrlArrows = false } = {},
) {
  const latest = useRef(onKey);
  latest.current = onKey;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const at = event.target instanceof HTMLElement ? event.target : document.body;
      const typing = at.matches("input, select, textarea, [contenteditable]");
      const held = (event.ctrlKey || event.metaKey) && !(ctrlArrows && event.key.startsWith("Arrow"));
      const elsewhere = held || event.altKey || document.querySelector(".modal");
      if (!typing && !elsewhere && !event.defaultPrevented && latest.current(event.key, event))
        event.preventDefault();
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, [ctrlArrows]);
}
