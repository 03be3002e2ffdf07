import { useRef, useState } from "react";
import { type Problem, Refused } from "../api/client";
import { useNotices } from "../notices/notices";

/** How often a draft is laid over what others have made of it before somebody is asked. */
const TRIES = 3;

interface Stored<D> {
  /** What is stored, as the fields show it. */
  draft: D;
  version: number;
  /** Stores a draft that started from a version, and gives the new version. */
  save: (draft: D, version: number) => Promise<number>;
  /** What a record that a refusal brings along is as a draft. */
  read: (record: unknown) => D;
  /** Reads again what is stored. */
  refresh: () => void;
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/**
 * What is being typed over a stored record. Only the fields that were touched are kept, so that
 * they can be laid over whatever the record has become; they are lost neither to a refusal nor to
 * another window.
 */
export function useDraft<D extends object>({ draft: stored, version, save, read, refresh }: Stored<D>) {
  const { tell, tellFailure } = useNotices();
  const [typed, setTyped] = useState<Partial<D> | null>(null);
  const [refusal, setRefusal] = useState<Problem>();
  const startedFrom = useRef(version);
  // What was stored when the typing began.
  const before = useRef(stored);
  const latest = useRef({ stored, typed });
  const saving = useRef<Promise<void>>(Promise.resolve());
  latest.current = { stored, typed };
  if (typed === null) {
    startedFrom.current = Math.max(version, startedFrom.current);
    before.current = stored;
  }

  const edit = (part: Partial<D>) => {
    const next = { ...latest.current.typed, ...part };
    latest.current.typed = next;
    setTyped(next);
    setRefusal(undefined);
  };

  /** Saves what is typed; what others have changed elsewhere in the record meanwhile stays theirs. */
  const saveOver = async (under: D, over: Partial<D>): Promise<number> => {
    let from = under;
    for (let left = TRIES; ; left--) {
      try {
        return await save({ ...from, ...over }, startedFrom.current);
      } catch (error) {
        const record = error instanceof Refused && error.problem.status === 412 && error.problem.current;
        if (!record || left === 0) throw error;
        const theirs = read(record);
        const isTheirs = (key: keyof D) =>
          !same(theirs[key], before.current[key]) && !same(theirs[key], over[key]);
        if ((Object.keys(over) as (keyof D)[]).some(isTheirs)) throw error;
        startedFrom.current = (record as unknown as { version: number }).version;
        from = theirs;
      }
    }
  };

  const store = async () => {
    const { stored: under, typed: over } = latest.current;
    if (over === null) return;
    try {
      startedFrom.current = await saveOver(under, over);
      // At once, so that a second commit on its way does not store the same again.
      if (latest.current.typed === over) latest.current.typed = null;
      setTyped((now) => (now === over ? null : now));
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 412) {
        const current = error.problem.current as { version: number } | undefined;
        if (current) startedFrom.current = current.version;
        refresh();
        tell(
          "This was changed in another window. Your entry is still in its field: press Enter there to save it anyway, Esc to discard it.",
        );
      } else if (error instanceof Refused && error.problem.status === 422) {
        setRefusal(error.problem);
      } else {
        tellFailure("Not saved", error);
      }
    }
  };

  /** Stores what is typed, after what is still on its way. */
  const commit = () => {
    saving.current = saving.current.then(store);
  };

  const drop = () => {
    latest.current.typed = null;
    setTyped(null);
    setRefusal(undefined);
  };

  return { value: { ...stored, ...typed }, typed, refusal, edit, commit, drop };
}
