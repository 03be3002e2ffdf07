import type { PointerEvent } from "react";

/** What moves a picture: a drag and a push, in delivery pixels. */
export interface Handles {
  onStart: () => void;
  /** So far right and down, at so many screen pixels per delivery line. */
  onDrag: (by: { x: number; y: number }, k: number, event: PointerEvent) => void;
  onEnd: (moved: boolean) => void;
  onCancel: () => void;
  /** Pushed in by a factor about a point, measured from the middle of the picture area. */
  onPush: (factor: number, about: { x: number; y: number }) => void;
}
