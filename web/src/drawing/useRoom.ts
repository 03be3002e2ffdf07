import { useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

/** The size of an element, followed as it changes, so that drawings are made at screen scale. */
export function useRoom<T extends HTMLElement>(first = { width: 600, height: 400 }) {
  const ref = useRef<T>(null);
  const [room, setRoom] = useState(first);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const measure = () => {
      const style = getComputedStyle(element);
      const width =
        element.clientWidth - Number.parseFloat(style.paddingLeft) - Number.parseFloat(style.paddingRight);
      const height =
        element.clientHeight - Number.parseFloat(style.paddingTop) - Number.parseFloat(style.paddingBottom);
      if (width > 0 && height > 0) setRoom({ width: Math.round(width), height: Math.round(height) });
    };
    measure();
    // In the frame in which the size changed: a later one would show the drawing in its old size.
    const observer = new ResizeObserver(() => flushSync(measure));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, room] as const;
}
