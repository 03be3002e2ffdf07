import type { Conversion, Source } from "../../api/client";
import { around, type Box, placed, placeIn } from "../../drawing/box";
import { Chain, type Link } from "../../drawing/chain";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { percent } from "../../drawing/numbers";
import { PictureIn, usePicture } from "../../drawing/picture";
import { UpArrow } from "../../drawing/upArrow";
import { useRoom } from "../../drawing/useRoom";
import type { Handles } from "./handles";
import { inside } from "./room";
import { useGrip } from "./useGrip";

interface Props {
  source: Source;
  conversion: Conversion;
  handles: Handles;
}

/** How far a drag along the stored axes is along those of the frame, before any scale. */
function turnedBy(rotation: number, x: number, y: number): { x: number; y: number } {
  if (rotation === 90) return { x: -y, y: x };
  if (rotation === 180) return { x: -x, y: -y };
  if (rotation === 270) return { x: y, y: -x };
  return { x, y };
}

/** The source as it is stored: squeezed and unturned, with the window in stored pixels. */
export function StoredDrawing({ source, conversion, handles }: Props) {
  const picture = usePicture(source, 1280, "stored");
  const [ref, room] = useRoom<HTMLDivElement>();
  const { raster, rotation } = source.values.geometry;
  const [width = 1, height = 1] = raster;
  const place = placeIn({ x: 0, y: 0, width, height }, inside(room));
  const whole = placed({ x: 0, y: 0, width, height }, place);
  const active = placed(source.shape.active, place);
  const { window, scale } = conversion.plan;
  const seen: Box | undefined = window
    ? placed(
        {
          x: window.x.value,
          y: window.y.value,
          width: window.width.value,
          height: window.height.value,
        },
        place,
      )
    : undefined;
  const grip = useGrip<SVGSVGElement>({
    ...handles,
    onDrag: (x, y, event) => {
      const by = turnedBy(rotation, -x / place.k, -y / place.k);
      handles.onDrag({ x: by.x * scale.x.value, y: by.y * scale.y.value }, place.k, event);
    },
    // About the middle of the window: the pointer stands in another picture than the frame's.
    onPush: (factor) => handles.onPush(factor, { x: 0, y: 0 }),
  });
  const turned = rotation % 180 !== 0;
  const [uprightWidth, uprightHeight] = source.shape.upright.size;
  // A circle of the scene, as the stored picture holds it.
  const across = source.shape.active.width / ((turned ? uprightHeight : uprightWidth)?.value || 1);
  const down = source.shape.active.height / ((turned ? uprightWidth : uprightHeight)?.value || 1);
  const radius = seen && Math.min(seen.width / across, seen.height / down) * 0.3;
  const ends = (start: number, first: number, length: number, last: number) => [
    start,
    first,
    first + length,
    last,
  ];
  const links = (sides: number[], total: number, from?: number, length?: number): Link[] => {
    if (from === undefined || length === undefined) return [];
    return [from, length, total - from - length].map((value, at) => ({
      from: sides[at] ?? 0,
      to: sides[at + 1] ?? 0,
      length: { exact: "", value },
      name: "",
      ink: at === 1 ? "blue" : "cut",
    }));
  };
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className="drawing grip"
        {...grip}
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`The source as stored; ${percent(conversion.plan.kept.value)} percent of it is kept`}
      >
        <path className="d-cut" fillRule="evenodd" d={around(whole, seen)} />
        {seen && <rect className="d-picture" {...seen} />}
        <PictureIn href={picture} image={whole} seen={whole} faint />
        <PictureIn href={picture} image={whole} seen={seen} />
        {seen && radius && !picture && (
          <ellipse
            className="d-round"
            cx={seen.x + seen.width / 2}
            cy={seen.y + seen.height / 2}
            rx={radius * across}
            ry={radius * down}
          />
        )}
        {seen && rotation !== 0 && <UpArrow box={seen} turn={-rotation} />}
        {(active.width < whole.width || active.height < whole.height) && (
          <rect className="d-area" {...active} />
        )}
        <rect className="d-edge" {...whole} />
        {seen && <rect className="d-window" {...seen} />}
        <MeasureAcross
          from={whole.x}
          to={whole.x + whole.width}
          at={whole.y - 16}
          above
          label={`${width} stored`}
        />
        <MeasureDown from={whole.y} to={whole.y + whole.height} at={whole.x - 16} label={String(height)} />
        {seen && (
          <>
            <Chain
              links={links(
                ends(whole.x, seen.x, seen.width, whole.x + whole.width),
                width,
                window?.x.value,
                window?.width.value,
              )}
              between={[whole.x, whole.x + whole.width]}
              at={whole.y + whole.height + 16}
            />
            <Chain
              down
              links={links(
                ends(whole.y, seen.y, seen.height, whole.y + whole.height),
                height,
                window?.y.value,
                window?.height.value,
              )}
              between={[whole.y, whole.y + whole.height]}
              at={whole.x + whole.width + 16}
            />
          </>
        )}
      </svg>
    </div>
  );
}
