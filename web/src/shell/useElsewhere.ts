import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

/** Calls when somebody has gone elsewhere, on the same screen too: what stood over it goes. */
export function useElsewhere(then: () => void) {
  const { key } = useLocation();
  const from = useRef(key);
  const latest = useRef(then);
  latest.current = then;
  useEffect(() => {
    if (key === from.current) return;
    from.current = key;
    latest.current();
  }, [key]);
}
