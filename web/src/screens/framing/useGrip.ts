import { type PointerEvent, useEffect, useRef } from "react";

interface Grip {
  /** Taken hold of; a drag begins. */
  onStart: () => void;
  /** How far it has been dragged, in screen pixels. */
  onDrag: (x: number, y: number, event: PointerEvent) => void;
  /** Let go; whether it has been dragged at all. */
  onEnd: (moved: boolean) => void;
  onCancel: () => void;
  /** A turn of the wheel at a place of the drawing, in screen pixels. */
  onWheel: (turn: number, x: number, y: number) => void;
}

/** Takes hold of a drawing with mouse, pen or finger. */
export function useGrip<E extends SVGElement>(grip: Grip) {
  const ref = useRef<E>(null);
  const from = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const latest = useRef(grip);
  latest.current = grip;
  // Past the framework, which listens to wheels without being able to stop the page.
  useEffect(() => {
    const element = ref.current;
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { left, top } = (event.currentTarget as Element).getBoundingClientRect();
      latest.current.onWheel(event.deltaY, event.clientX - left, event.clientY - top);
    };
    element?.addEventListener("wheel", turn, { passive: false });
    return () => element?.removeEventListener("wheel", turn);
  }, []);
  return {
    ref,
    onPointerDown: (event: PointerEvent<E>) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      from.current = { x: event.clientX, y: event.clientY, moved: false };
      latest.current.onStart();
    },
    onPointerMove: (event: PointerEvent<E>) => {
      const start = from.current;
      if (!start) return;
      const [x, y] = [event.clientX - start.x, event.clientY - start.y];
      if (!start.moved && Math.hypot(x, y) < 3) return;
      start.moved = true;
      latest.current.onDrag(x, y, event);
    },
    onPointerUp: () => {
      if (from.current) latest.current.onEnd(from.current.moved);
      from.current = null;
    },
    onPointerCancel: () => {
      if (from.current) latest.current.onCancel();
      from.current = null;
    },
  };
}
