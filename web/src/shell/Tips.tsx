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
    document.addEventListener("pointerover", pointed);
    document.addEventListener("focusin", focused);
    document.addEventListener("focusout", hide);
    document.addEventListener("keydown", hide);
    document.addEventListener("pointerdown", hide);
    document.addEventListener("scroll", hide, true);
    return () => {
      hide();
      document.removeEventListener("pointerover", pointed);
      document.removeEventListener("focusin", focused);
      document.removeEventListener("focusout", hide);
      document.removeEventListener("keydown", hide);
      document.removeEventListener("pointerdown", hide);
      document.removeEventListener("scroll", hide, true);
    };
  }, []);
  const says = target?.dataset.tip;
  return target && says ? (
    <Suspense fallback={null}>
      <Bubble target={target} says={says} />
    </Suspense>
  ) : null;
}
