import type { Common, Conversion, Frame, Source, Subject } from "../../api/client";
import { around, type Box, overlap, placed, placeIn, stretchAcross } from "../../drawing/box";
import { Chain, type Link } from "../../drawing/chain";
import { pixelAspectOf, roundness } from "../../drawing/crossing";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { fraction, percent, short } from "../../drawing/numbers";
import { PictureIn, usePicture } from "../../drawing/picture";
import { SubjectMark, subjectIn } from "../../drawing/subject";
import { useRoom } from "../../drawing/useRoom";
import type { Handles } from "./handles";
import { inside } from "./room";
import { SubjectLayer } from "./SubjectLayer";
import { useGrip } from "./useGrip";

interface Props {
  source: Source;
  frame: Frame;
  conversion: Conversion;
  /** Where the picture lands by the newest move, in delivery pixels. */
  image: Box;
  handles: Handles;
  common?: Common | undefined;
  /** Of the windows of all frames, which are left out. */
  without: ReadonlySet<number>;
  subject?: Subject | null | undefined;
  /** Marks the subject; without it the picture is taken hold of. */
  onSubject?: ((subject: Subject) => void) | undefined;
}

/** The source upright, with the window that reaches the frame and what is cut around it. */
export function UprightDrawing(props: Props) {
  const { source, frame, conversion, image, handles, common, without, subject, onSubject } = props;
  const still = usePicture(source, 1280);
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
    onDrag: (x, y, event) =>
      onSubject || handles.onDrag({ x: -x / acrossPixel, y: -y / place.k }, place.k, event),
    onEnd: (moved) => onSubject || handles.onEnd(moved),
    onPush: (factor, x, y) =>
      handles.onPush(factor, {
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
  const x = seen ? [whole.x, seen.x, seen.x + seen.width, whole.x + whole.width] : [];
  const y = seen ? [whole.y, seen.y, seen.y + seen.height, whole.y + whole.height] : [];
  const links = (ends: number[], lengths: (Link["length"] | undefined)[]): Link[] =>
    lengths.map((length, at) => ({
      from: ends[at] ?? 0,
      to: ends[at + 1] ?? 0,
      length,
      name: at === 1 ? "" : "cut",
      ink: at === 1 ? "blue" : "cut",
    }));
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className={onSubject ? "drawing marking" : "drawing grip"}
        {...grip}
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`The source upright; ${percent(conversion.plan.kept.value)} percent of it is kept`}
      >
        {conversion.plan.kept.value < 1 && (
          <path className="d-cut" fillRule="evenodd" d={around(whole, seen)} />
        )}
        {seen && <rect className="d-picture" {...seen} />}
        <PictureIn href={still} image={whole} seen={whole} faint />
        <PictureIn href={still} image={whole} seen={seen} />
        {seen && !still && <ellipse className="d-round" {...roundness(seen, 0)} />}
        <rect className="d-edge" {...whole} />
        {seen && <rect className="d-window" {...seen} />}
        {common && <CommonDrawing common={common} whole={whole} without={without} />}
        {onSubject ? (
          <SubjectLayer whole={whole} subject={subject ?? undefined} onSubject={onSubject} />
        ) : (
          subject && <SubjectMark box={subjectIn(subject, whole)} named />
        )}
        <MeasureAcross
          from={whole.x}
          to={whole.x + whole.width}
          at={whole.y - 16}
          above
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
        <Chain
          links={links(x, [cut?.left, window?.width, cut?.right])}
          between={[whole.x, whole.x + whole.width]}
          at={whole.y + whole.height + 16}
        />
        {(cut?.top.value || cut?.bottom.value) && (
          <Chain
            down
            links={links(y, [cut.top, window?.height, cut.bottom])}
            between={[whole.y, whole.y + whole.height]}
            at={whole.x + whole.width + 16}
          />
        )}
      </svg>
    </div>
  );
}

/** What every frame shows, and the outline of what some frame shows. */
function CommonDrawing({
  common,
  whole,
  without,
}: {
  common: Common;
  whole: Box;
  without: ReadonlySet<number>;
}) {
  const boxOf = (part: NonNullable<Common["every"]>): Box => ({
    x: whole.x + part.x.value * whole.width,
    y: whole.y + part.y.value * whole.height,
    width: part.width.value * whole.width,
    height: part.height.value * whole.height,
  });
  const every = common.every && boxOf(common.every);
  return (
    <g className="measure blue">
      {common.some.map((part, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the parts come in one order
        <rect key={`some${at}`} className="d-some" {...boxOf(part)} />
      ))}
      {common.windows.map(
        (window, at) =>
          window &&
          !without.has(at) && (
            // biome-ignore lint/suspicious/noArrayIndexKey: windows stand in the order of the frames
            <rect key={at} className="d-other" {...boxOf(window)} />
          ),
      )}
      {every && <rect className="d-every" {...every} />}
      {every && (
        <text
          className="halo"
          x={every.x + every.width / 2}
          y={every.y + every.height - 6}
          textAnchor="middle"
        >
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
