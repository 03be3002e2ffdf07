import { type PointerEvent, useRef } from "react";
import { placed, placeIn } from "../../drawing/box";
import { useRoom } from "../../drawing/useRoom";

interface Props {
  picture: string | undefined;
  raster: readonly [number, number];
  label: string;
  /** Circles on which the sphere is enlarged so much: scale, and radius in widths of the view. */
  rings: readonly number[][];
  /** The hand has moved what is seen, in pixels of a view of this size. */
  onDrag: (size: [number, number], from: [number, number], to: [number, number]) => void;
  onDragged: () => void;
  /** Marks instead of moving: a press gives its pixel, or a line from one to another. */
  marking: "horizon" | "uprights" | undefined;
  onMark: (size: [number, number], from: [number, number], to: [number, number]) => void;
  onWheel: (times: number) => void;
}

/** The flat view: what a camera in the middle of the sphere has. */
export function ViewPane(props: Props) {
  const { picture, raster, rings, label, onDrag, onDragged, marking, onMark, onWheel } = props;
  const [ref, room] = useRoom<HTMLDivElement>({ width: 420, height: 240 });
  const whole = { x: 0, y: 0, width: raster[0], height: raster[1] };
  const box = placed(whole, placeIn(whole, { x: 2, y: 2, width: room.width - 4, height: room.height - 4 }));
  const hand = useRef<{ from: [number, number]; moved: boolean } | null>(null);
  const size: [number, number] = [Math.max(1, Math.round(box.width)), Math.max(1, Math.round(box.height))];
  const at = (event: PointerEvent<SVGSVGElement>): [number, number] => {
    const sheet = event.currentTarget.getBoundingClientRect();
    const held = (value: number, most: number) => Math.min(Math.max(Math.round(value), 0), most);
    return [
      held(event.clientX - sheet.left - box.x, size[0]),
      held(event.clientY - sheet.top - box.y, size[1]),
    ];
  };
  const end = (event: PointerEvent<SVGSVGElement>) => {
    const now = hand.current;
    hand.current = null;
    if (!now) return;
    if (marking) onMark(size, now.from, at(event));
    else if (now.moved) onDragged();
  };
  return (
    <div className="sphere-room" ref={ref}>
      <svg
        className={marking ? "sphere-view marking" : "sphere-view"}
        width={room.width}
        height={room.height}
        role="img"
        aria-label={label}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          hand.current = { from: at(event), moved: false };
        }}
        onPointerMove={(event) => {
          if (!hand.current || marking) return;
          hand.current.moved = true;
          onDrag(size, hand.current.from, at(event));
        }}
        onPointerUp={end}
        onPointerCancel={end}
        onWheel={(event) => onWheel(event.deltaY > 0 ? 1.05 : 1 / 1.05)}
      >
        {picture && <image href={picture} {...box} preserveAspectRatio="none" />}
        <clipPath id="view-edge">
          <rect {...box} />
        </clipPath>
        <g clipPath="url(#view-edge)">
          {rings.map(([scale = 1, radius = 0]) => {
            const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
            const r = radius * box.width;
            // Where the circle leaves the view at its upper edge, its number goes to the side.
            const above = r < box.height / 2 - 12;
            return (
              <g key={scale} className={scale > 1 ? "d-ring enlarged" : "d-ring"}>
                <circle cx={x} cy={y} r={r} />
                <text
                  x={above ? x : x + r - 4}
                  y={above ? y - r - 3 : y - 4}
                  textAnchor={above ? "middle" : "end"}
                >
                  {Math.round(scale * 100)} %
                </text>
              </g>
            );
          })}
        </g>
        <rect className="d-look-edge" {...box} />
      </svg>
    </div>
  );
}
