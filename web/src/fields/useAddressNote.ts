import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

/** How long the keys must rest before the address follows. */
const REST = 400;

/**
 * Notes in the address what is chosen on a screen, when the keys rest, so that a reload and the
 * way back find the same place. It writes past the router: nothing is to be drawn anew, and a
 * screen that is being left must not be called back. The function it gives writes at once.
 */
export function useAddressNote(note: string): () => void {
  const { pathname } = useLocation();
  const write = () => {
    if (window.location.pathname !== pathname || window.location.search === note) return;
    // What a link brought along holds no longer.
    window.history.replaceState({ ...window.history.state, usr: null }, "", pathname + note);
  };
  const latest = useRef(write);
  latest.current = write;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new note begins the rest anew
  useEffect(() => {
    const rest = setTimeout(() => latest.current(), REST);
    return () => clearTimeout(rest);
  }, [note]);
  return write;
}
