import { type PointerEvent, useEffect, useRef } from "react";

interface Grip {
  /** Taken hold of; a drag begins. */
  onStart: () => void;
  /** How far it has been dragged, in screen pixels. */
  onDrag: (x: number, y: number, event: PointerEvent) => void;
  /** Let go; whether it has been dragged at all. */
  onEnd: (moved: boolean) => void;
  onCancel: () => void;
  /** Pushed in by a factor at a place of the drawing, in screen pixels: by wheel or by two fingers. */
  onPush: (factor: number, x: number, y: number) => void;
}

/** How much a turn of the wheel pushes in. */
const pushOf = (turn: number) => Math.exp(-Math.max(-240, Math.min(turn, 240)) * 0.0006);

/** Takes hold of a drawing with mouse, pen or fingers: one drags, two push in and out. */
export function useGrip<E extends SVGElement>(grip: Grip) {
  const ref = useRef<E>(null);
  const from = useRef<{ id: number; x: number; y: number; moved: boolean } | null>(null);
  const down = useRef(new Map<number, { x: number; y: number }>());
  const latest = useRef(grip);
  latest.current = grip;
  // Past the framework, which listens to wheels without being able to stop the page.
  useEffect(() => {
    const element = ref.current;
    const turn = (event: WheelEvent) => {
      // A page that scrolls past must not reframe: a hand on the drawing or on Control means it.
      if (!event.ctrlKey && document.activeElement !== element) return;
      event.preventDefault();
      const { left, top } = (event.currentTarget as Element).getBoundingClientRect();
      latest.current.onPush(pushOf(event.deltaY), event.clientX - left, event.clientY - top);
    };
    element?.addEventListener("wheel", turn, { passive: false });
    return () => element?.removeEventListener("wheel", turn);
  }, []);

  const spread = () => {
    const [one, two] = [...down.current.values()];
    return one && two ? Math.hypot(one.x - two.x, one.y - two.y) : 0;
  };
  const lift = (event: PointerEvent<E>, cancelled: boolean) => {
    down.current.delete(event.pointerId);
    const start = from.current;
    if (start?.id !== event.pointerId) return;
    from.current = null;
    if (cancelled) latest.current.onCancel();
    else latest.current.onEnd(start.moved);
  };
  return {
    ref,
    tabIndex: 0,
    onPointerDown: (event: PointerEvent<E>) => {
      if (event.button !== 0) return;
      event.currentTarget.focus({ preventScroll: true });
      event.currentTarget.setPointerCapture(event.pointerId);
      down.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
      if (down.current.size === 2 && from.current) {
        // A second finger: what the first one dragged stays, and the two push.
        latest.current.onEnd(from.current.moved);
        from.current = null;
      } else if (down.current.size === 1) {
        from.current = { id: event.pointerId, x: event.clientX, y: event.clientY, moved: false };
        latest.current.onStart();
      }
    },
    onPointerMove: (event: PointerEvent<E>) => {
      const finger = down.current.get(event.pointerId);
      if (finger && down.current.size === 2) {
        const before = spread();
        down.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
        const { left, top } = event.currentTarget.getBoundingClientRect();
        const [one, two] = [...down.current.values()];
        if (one && two && before > 0)
          latest.current.onPush(spread() / before, (one.x + two.x) / 2 - left, (one.y + two.y) / 2 - top);
        return;
      }
      const start = from.current;
      if (start?.id !== event.pointerId) return;
      const [x, y] = [event.clientX - start.x, event.clientY - start.y];
      if (!start.moved && Math.hypot(x, y) < 3) return;
      start.moved = true;
      latest.current.onDrag(x, y, event);
    },
    onPointerUp: (event: PointerEvent<E>) => lift(event, false),
    onPointerCancel: (event: PointerEvent<E>) => lift(event, true),
  };
}
