import type { PointerEvent } from "react";
import type { Common, Conversion, Exact, Frame, Source } from "../../api/client";
import { around, type Box, overlap, placed, placeIn, stretchAcross } from "../../drawing/box";
import { pixelAspectOf, roundness } from "../../drawing/crossing";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { fraction, percent, short } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";
import { useGrip } from "./useGrip";

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

/** What moves a picture: a drag and a turn of the wheel, in delivery pixels. */
export interface Handles {
  onStart: () => void;
  /** So far right and down, at so many screen pixels per delivery line. */
  onDrag: (by: { x: number; y: number }, k: number, event: PointerEvent) => void;
  onEnd: (moved: boolean) => void;
  onCancel: () => void;
  /** Pushed in by a factor about a point, measured from the middle of the picture area. */
  onPush: (factor: number, about: { x: number; y: number }) => void;
}

/** How much a turn of the wheel pushes in. */
const pushOf = (turn: number) => Math.exp(-Math.max(-240, Math.min(turn, 240)) * 0.0006);

interface Drawing {
  frame: Frame;
  conversion: Conversion;
  /** Where the picture lands by the newest move, in delivery pixels. */
  image: Box;
  handles: Handles;
}

/** The source upright, with the window that reaches the frame and what is cut around it. */
export function WindowDrawing(props: Drawing & { source: Source; common?: Common }) {
  const { source, frame, conversion, image, handles, common } = props;
  const [ref, room] = useRoom<HTMLDivElement>();
  const aspect = pixelAspectOf(frame);
  const picture = stretchAcross(image, aspect);
  // Undo the distortion, so that the source keeps its own proportion.
  const bend = 1 + conversion.plan.distortion.value;
  const unbent = (box: Box): Box => ({ ...box, x: box.x / bend, width: box.width / bend });
  const place = placeIn(unbent(picture), inside(room));
  const whole = placed(unbent(picture), place);
  const area = placed(unbent(stretchAcross(frame.shape.picture_area, aspect)), place);
  const seen = overlap(whole, area);
  // The window is taken hold of: the picture goes the other way.
  const acrossPixel = (place.k * aspect) / bend;
  const grip = useGrip<SVGSVGElement>({
    ...handles,
    onDrag: (x, y, event) => handles.onDrag({ x: -x / acrossPixel, y: -y / place.k }, place.k, event),
    onWheel: (turn, x, y) =>
      handles.onPush(pushOf(turn), {
        x: (x - area.x - area.width / 2) / acrossPixel,
        y: (y - area.y - area.height / 2) / place.k,
      }),
  });
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
        className="drawing grip"
        {...grip}
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
        {common && <CommonDrawing common={common} whole={whole} />}
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

/** What every frame shows, and the outline of what some frame shows. */
function CommonDrawing({ common, whole }: { common: Common; whole: Box }) {
  const boxOf = (part: NonNullable<Common["every"]>): Box => ({
    x: whole.x + part.x.value * whole.width,
    y: whole.y + part.y.value * whole.height,
    width: part.width.value * whole.width,
    height: part.height.value * whole.height,
  });
  const every = common.every && boxOf(common.every);
  return (
    <g className="measure blue">
      {common.windows.map(
        (window, at) =>
          // biome-ignore lint/suspicious/noArrayIndexKey: windows stand in the order of the frames
          window && <rect key={at} className="d-other" {...boxOf(window)} />,
      )}
      {every && <rect className="d-every" {...every} />}
      {every && every.width > 90 && (
        <text x={every.x + every.width / 2} y={every.y + 14} textAnchor="middle">
          in every frame
        </text>
      )}
      {!every && (
        <text x={whole.x + whole.width / 2} y={whole.y + 14} textAnchor="middle">
          nothing is in every frame
        </text>
      )}
    </g>
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
export function FrameDrawing({ frame, conversion, image, handles }: Drawing) {
  const [ref, room] = useRoom<HTMLDivElement>({ width: 300, height: 400 });
  const aspect = pixelAspectOf(frame);
  const [width = 1, height = 1] = frame.values.geometry.raster;
  const whole = stretchAcross({ x: 0, y: 0, width, height }, aspect);
  const place = placeIn(whole, inside(room));
  const { bars, travel, distortion } = conversion.plan;
  const frameBox = placed(whole, place);
  const areaBox = placed(stretchAcross(frame.shape.picture_area, aspect), place);
  const imageBox = placed(stretchAcross(image, aspect), place);
  const grip = useGrip<SVGSVGElement>({
    ...handles,
    onDrag: (x, y, event) => handles.onDrag({ x: x / place.k / aspect, y: y / place.k }, place.k, event),
    onWheel: (turn, x, y) =>
      handles.onPush(pushOf(turn), {
        x: (x - areaBox.x - areaBox.width / 2) / place.k / aspect,
        y: (y - areaBox.y - areaBox.height / 2) / place.k,
      }),
  });
  const seen = overlap(areaBox, imageBox);
  const masked = frame.shape.picture_area;
  const right = frameBox.x + frameBox.width + 16;
  const below = frameBox.y + frameBox.height + 16;
  const areaBottom = areaBox.y + areaBox.height;
  const areaRight = areaBox.x + areaBox.width;
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className="drawing grip"
        {...grip}
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
