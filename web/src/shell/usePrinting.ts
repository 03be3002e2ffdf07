import { useEffect, useState } from "react";
import { flushSync } from "react-dom";

/** Whether the page is on its way to paper: what is drawn for paper alone is there before it is laid out. */
export function usePrinting() {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    const begin = () => flushSync(() => setPrinting(true));
    const end = () => setPrinting(false);
    window.addEventListener("beforeprint", begin);
    window.addEventListener("afterprint", end);
    return () => {
      window.removeEventListener("beforeprint", begin);
      window.removeEventListener("afterprint", end);
    };
  }, []);
  return printing;
}
