import type { CSSProperties } from "react";
import type { Frame } from "../../api/client";
import { around, placed, stretchAcross } from "../../drawing/box";
import { pixelAspectOf } from "../../drawing/crossing";
import { raster, ratio } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";

const GAP = 34;
const FOOT = 36;
/** What the name of a frame takes at least. */
const LEAST = 74;

/** Every frame at one scale, standing on one line. */
export function Silhouettes({
  frames,
  selected,
  onSelect,
}: {
  frames: Frame[];
  selected?: Frame | undefined;
  onSelect: (frame: Frame) => void;
}) {
  const [ref, seen] = useRoom<HTMLDivElement>({ width: 1200, height: 200 });
  // Where the names have no room side by side, the drawing is scrolled.
  const room = { ...seen, width: Math.max(seen.width, frames.length * LEAST) };
  const wholes = frames.map((frame) => {
    const [width = 1, height = 1] = frame.values.geometry.raster;
    return stretchAcross({ x: 0, y: 0, width, height }, pixelAspectOf(frame));
  });
  const across = wholes.reduce((sum, { width }) => sum + width, 0);
  const highest = Math.max(...wholes.map(({ height }) => height));
  const k = Math.max(
    0.005,
    Math.min((room.width - GAP * (frames.length + 1)) / across, (room.height - FOOT - 8) / highest),
  );
  const used = across * k + GAP * (frames.length - 1);
  let x = Math.max(4, (room.width - used) / 2);
  return (
    <div className="drawing-box scroll" ref={ref} tabIndex={room.width > seen.width ? 0 : undefined}>
      <svg
        className="drawing"
        style={{ "--room": `${room.width}px` } as CSSProperties}
        viewBox={`0 0 ${room.width} ${room.height}`}
      >
        <title>The frames at one scale</title>
        <path className="d-measure quiet" d={`M0 ${room.height - FOOT}H${room.width}`} />
        {frames.map((frame, at) => {
          const whole = wholes[at];
          if (!whole) return null;
          const place = { k, x, y: room.height - FOOT - whole.height * k };
          const box = placed(whole, place);
          const area = placed(stretchAcross(frame.shape.picture_area, pixelAspectOf(frame)), place);
          x += box.width + GAP;
          const room1 = Math.max(box.width + GAP - 6, 40);
          const letters = Math.floor(room1 / 6.6);
          const name =
            frame.values.name.length > letters
              ? `${frame.values.name.slice(0, letters - 1)}…`
              : frame.values.name;
          return (
            // biome-ignore lint/a11y/noStaticElementInteractions: the table below selects the same by key
            <g key={frame.id} onClick={() => onSelect(frame)} className="silhouette">
              <title>
                {frame.values.name}, {raster(frame.values.geometry.raster)}
              </title>
              <path className="d-bars" fillRule="evenodd" d={around(box, area)} />
              <rect className="d-picture" {...area} />
              <rect className={frame === selected ? "d-window" : "d-edge"} {...box} />
              <text
                x={box.x + box.width / 2}
                y={room.height - FOOT + 15}
                textAnchor="middle"
                className="words"
                fontSize="12"
              >
                {name}
              </text>
              <text x={box.x + box.width / 2} y={room.height - FOOT + 30} textAnchor="middle" fontSize="11">
                {ratio(frame.shape.picture_ratio.value)}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
