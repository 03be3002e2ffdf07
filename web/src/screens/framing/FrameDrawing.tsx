import type { Conversion, Frame, Source } from "../../api/client";
import { around, type Box, overlap, type Place, placed, placeIn, stretchAcross } from "../../drawing/box";
import { Chain, type Link } from "../../drawing/chain";
import { pixelAspectOf, roundness } from "../../drawing/crossing";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { percent, short } from "../../drawing/numbers";
import { PictureIn, usePicture } from "../../drawing/picture";
import { SubjectMark, subjectIn } from "../../drawing/subject";
import { useRoom } from "../../drawing/useRoom";
import type { Handles } from "./handles";
import { inside } from "./room";
import { useGrip } from "./useGrip";
import { CORNERS, type Guides, type View } from "./useView";

interface Props {
  source: Source;
  frame: Frame;
  conversion: Conversion;
  /** Where the picture lands by the newest move, in delivery pixels. */
  image: Box;
  handles: Handles;
  guides: Guides;
  view: View;
}

/** Puts a corner of the picture area into the room, most of it taken by the inside. */
function cornerPlace(whole: Box, [right, down]: readonly [number, number], k: number, room: Box): Place {
  const inward = 0.32;
  return {
    k,
    x: room.x + room.width * (right ? 1 - inward : inward) - (whole.x + whole.width * right) * k,
    y: room.y + room.height * (down ? 1 - inward : inward) - (whole.y + whole.height * down) * k,
  };
}

/** The delivered frame: picture, bars, the masked part, a circle of the scene, and the guides. */
export function FrameDrawing(props: Props) {
  const { source, frame, conversion, image, handles, guides, view } = props;
  const { subject } = source.values;
  const picture = usePicture(source, view.corner ? 4096 : 1280);
  const [ref, room] = useRoom<HTMLDivElement>({ width: 300, height: 400 });
  const aspect = pixelAspectOf(frame);
  const [width = 1, height = 1] = frame.values.geometry.raster;
  const whole = stretchAcross({ x: 0, y: 0, width, height }, aspect);
  const corner = view.corner && CORNERS[view.corner];
  const place = corner
    ? // Of the picture area: that is where the picture begins.
      cornerPlace(stretchAcross(frame.shape.picture_area, aspect), corner, view.percent / 100, {
        x: 0,
        y: 0,
        ...room,
      })
    : placeIn(whole, inside(room));
  const put = (box: Box) => placed(stretchAcross(box, aspect), place);
  const { bars, distortion } = conversion.plan;
  const masked = frame.shape.picture_area;
  const frameBox = placed(whole, place);
  const areaBox = put(masked);
  const imageBox = put(image);
  const grip = useGrip<SVGSVGElement>({
    ...handles,
    onDrag: (x, y, event) => handles.onDrag({ x: x / place.k / aspect, y: y / place.k }, place.k, event),
    onPush: (factor, x, y) =>
      handles.onPush(factor, {
        x: (x - areaBox.x - areaBox.width / 2) / place.k / aspect,
        y: (y - areaBox.y - areaBox.height / 2) / place.k,
      }),
  });
  const seen = overlap(areaBox, imageBox);
  const [areaRight, areaBottom] = [areaBox.x + areaBox.width, areaBox.y + areaBox.height];
  const links = (
    [first, last]: [number, number],
    [begin, end]: [number, number],
    lengths: [Link["length"], Link["length"]],
  ): Link[] =>
    lengths.map((length, at) => ({
      from: at === 0 ? first : Math.max(end, first),
      to: at === 0 ? Math.min(begin, last) : last,
      length,
      name: "bar",
      ink: "cut",
    }));
  const across = links(
    [areaBox.x, areaRight],
    [imageBox.x, imageBox.x + imageBox.width],
    [bars.left, bars.right],
  );
  const down = links(
    [areaBox.y, areaBottom],
    [imageBox.y, imageBox.y + imageBox.height],
    [bars.top, bars.bottom],
  );
  const right = frameBox.x + frameBox.width + 16;
  const below = frameBox.y + frameBox.height + 16;
  return (
    <div className="drawing-box" ref={ref}>
      <svg
        className={corner ? "drawing grip in-room" : "drawing grip"}
        {...grip}
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`The frame, ${percent(conversion.plan.covered.value)} percent covered`}
      >
        {corner && (
          <path className="d-cut" fillRule="evenodd" d={around(imageBox, overlap(frameBox, imageBox))} />
        )}
        <path className="d-bars" fillRule="evenodd" d={around(frameBox, seen)} />
        {seen && <rect className="d-picture" {...seen} />}
        <PictureIn
          href={picture}
          image={imageBox}
          seen={seen}
          sharp={corner !== null && view.percent >= 200}
        />
        {seen && (!picture || distortion.value !== 0) && (
          <ellipse
            className={distortion.value === 0 ? "d-round" : "d-round bent"}
            {...roundness(seen, distortion.value)}
          />
        )}
        {corner && view.percent >= 400 && (
          <PixelGrid place={place} aspect={aspect} room={room} whole={whole} />
        )}
        <GuideLines frame={frame} guides={guides} put={put} frameBox={frameBox} areaBox={areaBox} />
        {subject && <SubjectMark box={subjectIn(subject, imageBox)} named={!corner} within={frameBox} />}
        {(masked.width < width || masked.height < height) && <rect className="d-area" {...areaBox} />}
        <rect className="d-edge" {...frameBox} />
        {corner ? (
          <CornerNotes
            corner={corner}
            box={areaBox}
            room={room}
            image={image}
            area={{ ...masked }}
            imageBox={imageBox}
            areaBox={areaBox}
          />
        ) : (
          <>
            <path
              className="d-round"
              d={`M${frameBox.x + frameBox.width / 2 - 6} ${frameBox.y + frameBox.height / 2}h12m-6 -6v12`}
            />
            <MeasureAcross
              from={frameBox.x}
              to={frameBox.x + frameBox.width}
              at={frameBox.y - 16}
              above
              label={String(width)}
            />
            <MeasureDown
              from={frameBox.y}
              to={frameBox.y + frameBox.height}
              at={frameBox.x - 16}
              label={String(height)}
            />
            <Chain down links={down} at={right} between={[frameBox.y, frameBox.y + frameBox.height]} />
            <Chain links={across} at={below} between={[frameBox.x, frameBox.x + frameBox.width]} />
            {masked.height < height && (
              <MeasureDown
                from={areaBox.y}
                to={areaBottom}
                at={frameBox.x - 35}
                label={String(masked.height)}
                ink="blue"
              />
            )}
            {masked.width < width && (
              <MeasureAcross
                from={areaBox.x}
                to={areaRight}
                at={frameBox.y - 31}
                above
                label={String(masked.width)}
                ink="blue"
              />
            )}
          </>
        )}
      </svg>
    </div>
  );
}

interface Lines {
  frame: Frame;
  guides: Guides;
  put: (box: Box) => Box;
  frameBox: Box;
  areaBox: Box;
}

/** Safe areas, thirds and the outlines of other ratios. */
function GuideLines({ frame, guides, put, frameBox, areaBox }: Lines) {
  const { safe_areas, guides: ratios } = frame.shape;
  const third = (at: number) =>
    `M${areaBox.x + (areaBox.width * at) / 3} ${areaBox.y}v${areaBox.height}` +
    `M${areaBox.x} ${areaBox.y + (areaBox.height * at) / 3}h${areaBox.width}`;
  return (
    <g className="d-guides">
      {guides.thirds && <path className="d-third" d={third(1) + third(2)} />}
      {guides.safe &&
        safe_areas.map(({ name, rect }, at) => {
          const box = put({
            x: rect.x.value,
            y: rect.y.value,
            width: rect.width.value,
            height: rect.height.value,
          });
          return (
            <g key={name}>
              <title>{name}</title>
              <rect className="d-safe" {...box} />
              {frameBox.width > 150 && (
                // Areas that lie close have their names apart: below and above in turn, each in a line of its own.
                <text
                  x={box.x + 4}
                  y={
                    at % 2 === 0
                      ? box.y + box.height - 4 - 11 * Math.floor(at / 2)
                      : box.y + 11 + 11 * Math.floor(at / 2)
                  }
                >
                  {name}
                </text>
              )}
            </g>
          );
        })}
      {guides.ratios &&
        ratios.map(({ ratio, area }) => {
          const box = put(area);
          return (
            <g key={ratio}>
              <rect className="d-ratio" {...box} />
              <text x={box.x + box.width - 4} y={box.y + 11} textAnchor="end">
                {ratio}
              </text>
            </g>
          );
        })}
    </g>
  );
}

/** The edges of single pixels. */
function PixelGrid(props: {
  place: Place;
  aspect: number;
  room: { width: number; height: number };
  whole: Box;
}) {
  const { place, aspect, room, whole } = props;
  const lines: string[] = [];
  const box = placed(whole, place);
  const [left, right] = [Math.max(box.x, 0), Math.min(box.x + box.width, room.width)];
  const [top, bottom] = [Math.max(box.y, 0), Math.min(box.y + box.height, room.height)];
  const step = place.k * aspect;
  for (let x = box.x + Math.ceil((left - box.x) / step) * step; x <= right; x += step)
    lines.push(`M${x} ${top}V${bottom}`);
  for (let y = box.y + Math.ceil((top - box.y) / place.k) * place.k; y <= bottom; y += place.k)
    lines.push(`M${left} ${y}H${right}`);
  return <path className="d-pixels" d={lines.join("")} />;
}

interface Notes {
  corner: readonly [number, number];
  box: Box;
  room: { width: number; height: number };
  image: Box;
  area: Box;
  imageBox: Box;
  areaBox: Box;
}

/** Where the edges near a corner lie, in delivery pixels from it, whole ones and parts. */
function CornerNotes({ corner: [right, down], box, room, image, area, imageBox, areaBox }: Notes) {
  const edge = (at: Box, axis: "x" | "y") =>
    axis === "x" ? at.x + (right ? at.width : 0) : at.y + (down ? at.height : 0);
  const inRoom = (value: number, length: number) => value > 4 && value < length - 4;
  const edges = (axis: "x" | "y", length: number) => {
    const picture = { at: edge(imageBox, axis), value: edge(image, axis), ink: "blue" };
    const masked = { at: edge(areaBox, axis), value: edge(area, axis), ink: "ink" };
    const both = Math.abs(picture.at - masked.at) < 0.01;
    const named = both
      ? [{ name: "edge", ...masked }]
      : [
          { name: "picture edge", ...picture },
          { name: "area edge", ...masked },
        ];
    return named.filter(({ at }) => inRoom(at, length));
  };
  const across = edges("x", room.width);
  const up = edges("y", room.height);
  const outsideX = right ? Math.min(box.x + box.width + 8, room.width - 4) : Math.max(box.x - 8, 4);
  return (
    <g>
      {across.map(({ name, at, value, ink }, row) => (
        <g key={name} className={`measure ${ink}`}>
          <path className="d-edge-line" d={`M${at} 0V${room.height}`} />
          <text x={at + (right ? -5 : 5)} y={16 + row * 15} textAnchor={right ? "end" : "start"}>
            {name} x {short(value, 3)}
          </text>
        </g>
      ))}
      {up.map(({ name, at, value, ink }, row) => (
        <g key={name} className={`measure ${ink}`}>
          <path className="d-edge-line" d={`M0 ${at}H${room.width}`} />
          <text
            x={outsideX}
            y={at + (down ? -5 - row * 15 : 13 + row * 15)}
            textAnchor={right ? "start" : "end"}
            className="outside"
          >
            {name === "edge" ? "" : `${name.replace(" edge", "")} `}y {short(value, 3)}
          </text>
        </g>
      ))}
    </g>
  );
}
