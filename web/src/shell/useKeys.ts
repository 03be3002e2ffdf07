import { useEffect, useRef } from "react";

/**
 * Keys of a whole screen. They rest while somebody types, while a dialog is open, and with a
 * modifier held that belongs to the browser.
 */
export function useKeys(onKey: (key: string, event: KeyboardEvent) => boolean) {
  const latest = useRef(onKey);
  latest.current = onKey;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const at = event.target instanceof HTMLElement ? event.target : document.body;
      const typing = at.matches("input, select, textarea, [contenteditable]");
      const elsewhere = event.ctrlKey || event.metaKey || event.altKey || document.querySelector(".modal");
      if (!typing && !elsewhere && !event.defaultPrevented && latest.current(event.key, event))
        event.preventDefault();
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
}
