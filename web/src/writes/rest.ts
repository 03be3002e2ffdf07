/** Changes that wait for a hand to rest before they are asked for. */
const waiting = new Set<() => void>();

/** Notes such a change, until the function that it gives is called. */
export function waitForRest(ask: () => void): () => void {
  waiting.add(ask);
  return () => waiting.delete(ask);
}

/** Asks for them now: what is to be undone must have been done. */
export function restNow() {
  for (const ask of waiting) ask();
}
