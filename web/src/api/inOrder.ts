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

/** The last thing that was asked for in each project. */
const last = new Map<number, Promise<unknown>>();

/**
 * Carries out one change of a project after the other, in the order in which they were asked for,
 * however fast the keys come: an undo that follows a change undoes that change.
 */
export function inOrder<T>(project: number, work: () => Promise<T>): Promise<T> {
  const turn = (last.get(project) ?? Promise.resolve()).then(work);
  last.set(
    project,
    turn.catch(() => undefined),
  );
  return turn;
}
