import type { SourceShape, Subject } from "../../api/client";
import { around, type Box, placed, placeIn } from "../../drawing/box";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { fraction, ratio, short } from "../../drawing/numbers";
import { PictureIn } from "../../drawing/picture";
import { SubjectMark, subjectIn } from "../../drawing/subject";
import { UpArrow } from "../../drawing/upArrow";
import { useRoom } from "../../drawing/useRoom";

interface Props {
  raster: readonly number[];
  rotation: number;
  shape: SourceShape;
  subject?: Subject | null | undefined;
  /** Where its pictures are. */
  pictures?: { stored: string | undefined; upright: string | undefined } | undefined;
}

const MARGIN = { left: 40, top: 46, right: 22, bottom: 34 };

/** A source twice at one scale: as it is stored, and upright as it is seen. */
export function SourceDrawing({ raster, rotation, shape, subject, pictures }: Props) {
  const [ref, room] = useRoom<HTMLDivElement>({ width: 560, height: 260 });
  const half = room.width / 2;
  const stored: Box = { x: 0, y: 0, width: raster[0] ?? 1, height: raster[1] ?? 1 };
  const [uprightWidth, uprightHeight] = shape.upright.size;
  const upright: Box = { x: 0, y: 0, width: uprightWidth?.value ?? 1, height: uprightHeight?.value ?? 1 };
  // One scale for both, so that the eye can compare them.
  const frame = (at: number): Box => ({
    x: at + MARGIN.left,
    y: MARGIN.top,
    width: half - MARGIN.left - MARGIN.right,
    height: room.height - MARGIN.top - MARGIN.bottom,
  });
  const common: Box = {
    x: 0,
    y: 0,
    width: Math.max(stored.width, upright.width),
    height: Math.max(stored.height, upright.height),
  };
  const { k } = placeIn(common, frame(0));
  const centred = (box: Box, at: number) => {
    const into = frame(at);
    return placed(box, {
      k,
      x: into.x + (into.width - box.width * k) / 2,
      y: into.y + (into.height - box.height * k) / 2,
    });
  };
  const storedBox = centred(stored, 0);
  const active: Box = placed(shape.active, { k, x: storedBox.x, y: storedBox.y });
  const uprightBox = centred(upright, half);
  const turned = rotation === 90 || rotation === 270;
  const radius = Math.min(uprightBox.width, uprightBox.height) * 0.3;
  // A circle of the scene, as the stored picture holds it.
  const across = turned ? active.width / uprightBox.height : active.width / uprightBox.width;
  const down = turned ? active.height / uprightBox.width : active.height / uprightBox.height;
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className="drawing"
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`Stored ${raster.join(" by ")}, seen as ${ratio(shape.upright.ratio.value)}`}
      >
        <text className="words" x={storedBox.x} y={storedBox.y - 30} fontSize="12.5">
          as stored
        </text>
        <text className="words" x={uprightBox.x} y={uprightBox.y - 30} fontSize="12.5">
          upright, as seen
        </text>
        <path className="d-cut" fillRule="evenodd" d={around(storedBox, active)} />
        <rect className="d-picture" {...active} />
        <PictureIn href={pictures?.stored} image={storedBox} seen={storedBox} />
        {!pictures?.stored && (
          <ellipse
            className="d-round"
            cx={active.x + active.width / 2}
            cy={active.y + active.height / 2}
            rx={radius * across}
            ry={radius * down}
          />
        )}
        <UpArrow box={active} turn={-rotation} />
        <rect className="d-edge" {...storedBox} />
        <MeasureAcross
          from={storedBox.x}
          to={storedBox.x + storedBox.width}
          at={storedBox.y - 12}
          above
          label={String(raster[0])}
        />
        <MeasureDown
          from={storedBox.y}
          to={storedBox.y + storedBox.height}
          at={storedBox.x - 14}
          label={String(raster[1])}
        />
        {active.width < storedBox.width && (
          <MeasureAcross
            from={active.x}
            to={active.x + active.width}
            at={storedBox.y + storedBox.height + 14}
            label={String(shape.active.width)}
            ink="blue"
          />
        )}
        {active.height < storedBox.height && (
          <MeasureDown
            from={active.y}
            to={active.y + active.height}
            at={storedBox.x + storedBox.width + 14}
            label={String(shape.active.height)}
            ink="blue"
          />
        )}
        <rect className="d-picture" {...uprightBox} />
        <PictureIn href={pictures?.upright} image={uprightBox} seen={uprightBox} />
        {!pictures?.upright && (
          <circle
            className="d-round"
            cx={uprightBox.x + uprightBox.width / 2}
            cy={uprightBox.y + uprightBox.height / 2}
            r={radius}
          />
        )}
        <UpArrow box={uprightBox} turn={0} />
        <rect className="d-window" {...uprightBox} />
        {subject && <SubjectMark box={subjectIn(subject, uprightBox)} named />}
        <MeasureAcross
          from={uprightBox.x}
          to={uprightBox.x + uprightBox.width}
          at={uprightBox.y - 12}
          above
          label={short(upright.width)}
          exact={uprightWidth && fraction(uprightWidth)}
        />
        <MeasureDown
          from={uprightBox.y}
          to={uprightBox.y + uprightBox.height}
          at={uprightBox.x - 14}
          label={short(upright.height)}
          exact={uprightHeight && fraction(uprightHeight)}
        />
        <text
          x={uprightBox.x + uprightBox.width / 2}
          y={uprightBox.y + uprightBox.height + 20}
          textAnchor="middle"
          fontSize="13"
          fontWeight="600"
        >
          shows {ratio(shape.upright.ratio.value)}
        </text>
      </svg>
    </div>
  );
}
