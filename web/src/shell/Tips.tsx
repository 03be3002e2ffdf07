import { lazy, Suspense, useEffect, useState } from "react";

const Bubble = lazy(() => import("./TipBubble"));

/** Before a hint appears where the pointer rests, in milliseconds. */
const RESTS_MS = 450;

/** What shows the hints of all elements: one layer, for the pointer and for the keyboard. */
export function Tips() {
  const [target, setTarget] = useState<HTMLElement>();
  useEffect(() => {
    let waiting = 0;
    const hide = () => {
      clearTimeout(waiting);
      setTarget(undefined);
    };
    const hinted = ({ target }: Event) =>
      target instanceof Element ? (target.closest<HTMLElement>("[data-tip]") ?? undefined) : undefined;
    const pointed = (event: PointerEvent) => {
      // A finger has nothing to rest with.
      const found = event.pointerType === "touch" ? undefined : hinted(event);
      clearTimeout(waiting);
      if (found) waiting = window.setTimeout(() => setTarget(found), RESTS_MS);
      else setTarget((shown) => (shown?.contains(document.activeElement) ? shown : undefined));
    };
    const focused = (event: FocusEvent) => {
      const found = hinted(event);
      clearTimeout(waiting);
      setTarget(found?.matches(":focus-visible") ? found : undefined);
    };
    const gone = new AbortController();
    const { signal } = gone;
    document.addEventListener("pointerover", pointed, { signal });
    document.addEventListener("focusin", focused, { signal });
    for (const away of ["focusout", "keydown", "pointerdown"])
      document.addEventListener(away, hide, { signal });
    document.addEventListener("scroll", hide, { signal, capture: true });
    return () => {
      hide();
      gone.abort();
    };
  }, []);
  const says = target?.dataset.tip;
  return target && says ? (
    <Suspense fallback={null}>
      <Bubble target={target} says={says} />
    </Suspense>
  ) : null;
}
