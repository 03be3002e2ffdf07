import { useEffect, useRef, useState } from "react";
import { Refused } from "../../api/client";
import { failureText } from "../../notices/notices";

/**
 * Work of which only the newest wish counts: while one is under way the last of the later ones waits, all others are
 * forgotten. The promise is kept when nothing waits any more.
 */
export function useLatest<A>(work: (wish: A) => Promise<void>): (wish: A) => Promise<void> {
  const state = useRef<{ next: A | undefined; running: Promise<void> | undefined }>({
    next: undefined,
    running: undefined,
  });
  const now = useRef(work);
  now.current = work;
  return (wish) => {
    state.current.next = wish;
    state.current.running ??= (async () => {
      while (state.current.next !== undefined) {
        const wish = state.current.next;
        state.current.next = undefined;
        await now.current(wish);
      }
      state.current.running = undefined;
    })();
    return state.current.running;
  };
}

/** The picture behind an address that changes while a hand moves: the newest that has arrived. */
export function useFollowing(href: string) {
  const [shown, setShown] = useState<{ url?: string; error?: string }>({});
  const load = useLatest(async (href: string) => {
    try {
      const answer = await fetch(href);
      if (!answer.ok) throw new Refused(await answer.json());
      const url = URL.createObjectURL(await answer.blob());
      setShown((before) => {
        // The one before is still being painted.
        if (before.url) setTimeout(URL.revokeObjectURL, 2_000, before.url);
        return { url };
      });
    } catch (error) {
      setShown((before) => ({ ...before, error: failureText(error) }));
    }
  });
  const first = useRef(load);
  first.current = load;
  useEffect(() => void first.current(href), [href]);
  return shown;
}
