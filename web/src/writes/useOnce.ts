import { useRef, useState } from "react";

/** Something that is not begun again while it is still being done, and whether it is. */
export function useOnce<A extends unknown[]>(work: (...given: A) => Promise<unknown>) {
  const [pending, setPending] = useState(false);
  // Keys come faster than drawings.
  const begun = useRef(false);
  const run = async (...given: A) => {
    if (begun.current) return;
    begun.current = true;
    setPending(true);
    try {
      await work(...given);
    } finally {
      begun.current = false;
      setPending(false);
    }
  };
  return { run, pending };
}
