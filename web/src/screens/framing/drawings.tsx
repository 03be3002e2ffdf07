import type { Conversion, Exact, Frame, Source } from "../../api/client";
import { around, type Box, overlap, placed, placeIn, stretchAcross } from "../../drawing/box";
import { pixelAspectOf, roundness } from "../../drawing/crossing";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { fraction, percent, short } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";

const MARGIN = { left: 46, top: 34, right: 46, bottom: 44 };

function inside({ width, height }: { width: number; height: number }): Box {
  return {
    x: MARGIN.left,
    y: MARGIN.top,
    width: width - MARGIN.left - MARGIN.right,
    height: height - MARGIN.top - MARGIN.bottom,
  };
}

interface Piece {
  length: Exact | undefined;
  name: string;
  ink: "cut" | "blue";
}

/** The source upright, with the window that reaches the frame and what is cut around it. */
export function WindowDrawing({
  source,
  frame,
  conversion,
}: {
  source: Source;
  frame: Frame;
  conversion: Conversion;
}) {
  const [ref, room] = useRoom<HTMLDivElement>();
  const aspect = pixelAspectOf(frame);
  const { image } = conversion.plan;
  const picture = stretchAcross(
    { x: image.x.value, y: image.y.value, width: image.width.value, height: image.height.value },
    aspect,
  );
  // Undo the distortion, so that the source keeps its own proportion.
  const bend = 1 + conversion.plan.distortion.value;
  const unbent = (box: Box): Box => ({ ...box, x: box.x / bend, width: box.width / bend });
  const place = placeIn(unbent(picture), inside(room));
  const whole = placed(unbent(picture), place);
  const area = placed(unbent(stretchAcross(frame.shape.picture_area, aspect)), place);
  const seen = overlap(whole, area);
  const [width, height] = source.shape.upright.size;
  const turned = source.values.geometry.rotation % 180 !== 0;
  const stored = turned ? source.shape.active.height : source.shape.active.width;
  const shownWidth = width ? short(width.value) : "";
  const label = width?.value === stored ? shownWidth : `${shownWidth} shown · ${stored} stored`;
  const { cut, seen: window } = conversion;
  const across: Piece[] = [
    { length: cut?.left, name: "cut", ink: "cut" },
    { length: window?.width, name: "", ink: "blue" },
    { length: cut?.right, name: "cut", ink: "cut" },
  ];
  const down: Piece[] = [
    { length: cut?.top, name: "cut", ink: "cut" },
    { length: window?.height, name: "", ink: "blue" },
    { length: cut?.bottom, name: "cut", ink: "cut" },
  ];
  const circle = roundness(seen ?? whole, 0);
  const edgesX = seen ? [whole.x, seen.x, seen.x + seen.width, whole.x + whole.width] : [];
  const edgesY = seen ? [whole.y, seen.y, seen.y + seen.height, whole.y + whole.height] : [];
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className="drawing"
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`The part of the source that reaches the frame: ${percent(conversion.plan.kept.value)} percent`}
      >
        {conversion.plan.kept.value < 1 && (
          <path className="d-cut" fillRule="evenodd" d={around(whole, seen)} />
        )}
        {seen && <rect className="d-picture" {...seen} />}
        {seen && <ellipse className="d-round" {...circle} />}
        <rect className="d-edge" {...whole} />
        {seen && <rect className="d-window" {...seen} />}
        <MeasureAcross
          from={whole.x}
          to={whole.x + whole.width}
          at={whole.y - 16}
          label={label}
          exact={width && fraction(width)}
        />
        <MeasureDown
          from={whole.y}
          to={whole.y + whole.height}
          at={whole.x - 16}
          label={height ? short(height.value) : ""}
          exact={height && fraction(height)}
        />
        {across.map((piece, at) => (
          <PieceAcross
            // biome-ignore lint/suspicious/noArrayIndexKey: left, middle and right keep their places
            key={at}
            piece={piece}
            from={edgesX[at]}
            to={edgesX[at + 1]}
            at={whole.y + whole.height + 16}
          />
        ))}
        {(cut?.top.value || cut?.bottom.value) &&
          down.map((piece, at) => (
            <PieceDown
              // biome-ignore lint/suspicious/noArrayIndexKey: top, middle and bottom keep their places
              key={at}
              piece={piece}
              from={edgesY[at]}
              to={edgesY[at + 1]}
              at={whole.x + whole.width + 20}
            />
          ))}
      </svg>
    </div>
  );
}

function PieceAcross({ piece, from, to, at }: { piece: Piece; from?: number; to?: number; at: number }) {
  if (!piece.length || piece.length.value === 0 || from === undefined || to === undefined) return null;
  const label = `${piece.name} ${short(piece.length.value)}`.trim();
  return (
    <MeasureAcross from={from} to={to} at={at} label={label} ink={piece.ink} exact={fraction(piece.length)} />
  );
}

function PieceDown({ piece, from, to, at }: { piece: Piece; from?: number; to?: number; at: number }) {
  if (!piece.length || piece.length.value === 0 || from === undefined || to === undefined) return null;
  const label = `${piece.name} ${short(piece.length.value)}`.trim();
  return (
    <MeasureDown from={from} to={to} at={at} label={label} ink={piece.ink} exact={fraction(piece.length)} />
  );
}

/** The delivered frame: picture, bars, the masked part, and a circle of the scene. */
export function FrameDrawing({ frame, conversion }: { frame: Frame; conversion: Conversion }) {
  const [ref, room] = useRoom<HTMLDivElement>({ width: 300, height: 400 });
  const aspect = pixelAspectOf(frame);
  const [width = 1, height = 1] = frame.values.geometry.raster;
  const whole = stretchAcross({ x: 0, y: 0, width, height }, aspect);
  const place = placeIn(whole, inside(room));
  const { image, bars, travel, distortion } = conversion.plan;
  const frameBox = placed(whole, place);
  const areaBox = placed(stretchAcross(frame.shape.picture_area, aspect), place);
  const imageBox = placed(
    stretchAcross(
      { x: image.x.value, y: image.y.value, width: image.width.value, height: image.height.value },
      aspect,
    ),
    place,
  );
  const seen = overlap(areaBox, imageBox);
  const masked = frame.shape.picture_area;
  const right = frameBox.x + frameBox.width + 16;
  const below = frameBox.y + frameBox.height + 16;
  const areaBottom = areaBox.y + areaBox.height;
  const areaRight = areaBox.x + areaBox.width;
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className="drawing"
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`The frame, covered to ${percent(conversion.plan.covered.value)} percent`}
      >
        <path className="d-bars" fillRule="evenodd" d={around(frameBox, seen)} />
        {seen && <rect className="d-picture" {...seen} />}
        {seen && (
          <ellipse
            className={distortion.value === 0 ? "d-round" : "d-round bent"}
            {...roundness(seen, distortion.value)}
          />
        )}
        <path
          className="d-round"
          d={`M${frameBox.x + frameBox.width / 2 - 6} ${frameBox.y + frameBox.height / 2}h12m-6 -6v12`}
        />
        {(masked.width < width || masked.height < height) && <rect className="d-area" {...areaBox} />}
        <rect className="d-edge" {...frameBox} />
        <MeasureAcross
          from={frameBox.x}
          to={frameBox.x + frameBox.width}
          at={frameBox.y - 16}
          label={String(width)}
        />
        <MeasureDown
          from={frameBox.y}
          to={frameBox.y + frameBox.height}
          at={frameBox.x - 16}
          label={String(height)}
        />
        {masked.height < height && (
          <MeasureDown from={areaBox.y} to={areaBottom} at={right} label={String(masked.height)} ink="blue" />
        )}
        {masked.width < width && (
          <MeasureAcross from={areaBox.x} to={areaRight} at={below} label={String(masked.width)} ink="blue" />
        )}
        <BarDown bar={bars.top} from={areaBox.y} to={Math.min(imageBox.y, areaBottom)} at={right} />
        <BarDown
          bar={bars.bottom}
          from={Math.max(imageBox.y + imageBox.height, areaBox.y)}
          to={areaBottom}
          at={right}
        />
        <BarAcross bar={bars.left} from={areaBox.x} to={Math.min(imageBox.x, areaRight)} at={below} />
        <BarAcross
          bar={bars.right}
          from={Math.max(imageBox.x + imageBox.width, areaBox.x)}
          to={areaRight}
          at={below}
        />
        <text className="words" x={room.width / 2} y={room.height - 2} textAnchor="middle" fontSize="12">
          travel ±{short(travel.x.value, 1)} px across, ±{short(travel.y.value, 1)} px up and down
        </text>
      </svg>
    </div>
  );
}

interface Bar {
  bar: Exact;
  from: number;
  to: number;
  at: number;
}

function BarDown({ bar, ...line }: Bar) {
  if (bar.value === 0) return null;
  return <MeasureDown {...line} label={`bar ${short(bar.value, 1)}`} ink="cut" exact={fraction(bar)} />;
}

function BarAcross({ bar, ...line }: Bar) {
  if (bar.value === 0) return null;
  return <MeasureAcross {...line} label={`bar ${short(bar.value, 1)}`} ink="cut" exact={fraction(bar)} />;
}
