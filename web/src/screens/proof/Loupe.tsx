import { type PointerEvent, useLayoutEffect, useRef } from "react";
import type { Box } from "../../drawing/box";
import { useRoom } from "../../drawing/useRoom";

interface Props {
  /** What is drawn, onto a canvas of so many pixels of the screen. */
  draw: (context: CanvasRenderingContext2D, onto: Box) => void;
  label: string;
  /** Told how large it is, in pixels of the screen. */
  onRoom?: ((room: { width: number; height: number }) => void) | undefined;
  /** Told by how many pixels of the screen a hand has moved it. */
  onDrag?: ((x: number, y: number) => void) | undefined;
  onWheel?: ((up: boolean) => void) | undefined;
}

/** A part of a picture, at the screen's own pixels. */
export function Loupe({ draw, label, onRoom, onDrag, onWheel }: Props) {
  const [ref, room] = useRoom<HTMLDivElement>({ width: 300, height: 120 });
  const canvas = useRef<HTMLCanvasElement>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const ratio = window.devicePixelRatio || 1;
  const width = Math.max(1, Math.round(room.width * ratio));
  const height = Math.max(1, Math.round(room.height * ratio));
  useLayoutEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (context) draw(context, { x: 0, y: 0, width, height });
  });
  useLayoutEffect(() => onRoom?.({ width, height }), [width, height, onRoom]);
  const move = (event: PointerEvent) => {
    if (!from.current) return;
    onDrag?.((event.clientX - from.current.x) * ratio, (event.clientY - from.current.y) * ratio);
    from.current = { x: event.clientX, y: event.clientY };
  };
  const end = () => {
    from.current = null;
  };
  return (
    <div
      className={onDrag ? "loupe grip" : "loupe"}
      ref={ref}
      onPointerDown={(event) => {
        if (!onDrag || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={end}
      onWheel={(event) => onWheel?.(event.deltaY < 0)}
    >
      <canvas ref={canvas} width={width} height={height} role="img" aria-label={label} />
    </div>
  );
}
