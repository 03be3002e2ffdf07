import { memo } from "react";
import type { Crossing, Edit, Frame, Source } from "../api/client";
import { around, type Box, overlap, placed, placeIn, stretchAcross, union } from "./box";
import { asNumber } from "./numbers";
import { PictureIn, usePicture } from "./picture";

/** The shape of a frame's pixels, for drawing. */
export function pixelAspectOf(frame: Frame): number {
  const [width = 1, height = 1] = frame.values.geometry.raster;
  return (frame.shape.ratio.value * height) / width;
}

/** The boxes of a crossing on the screen: frame, picture area, image, and what of it is seen. */
export function crossingBoxes(
  frame: Frame,
  image: readonly number[],
  room: Box,
  /** The image by which it is all brought to scale, where that is another one. */
  scaledBy: readonly number[] = image,
) {
  const aspect = pixelAspectOf(frame);
  const [frameWidth = 1, frameHeight = 1] = frame.values.geometry.raster;
  const boxOf = ([x = 0, y = 0, width = 1, height = 1]: readonly number[]) =>
    stretchAcross({ x, y, width, height }, aspect);
  const wholeFrame = stretchAcross({ x: 0, y: 0, width: frameWidth, height: frameHeight }, aspect);
  const picture = boxOf(image);
  const place = placeIn(union(wholeFrame, boxOf(scaledBy)), room);
  const frameBox = placed(wholeFrame, place);
  const areaBox = placed(stretchAcross(frame.shape.picture_area, aspect), place);
  const imageBox = placed(picture, place);
  return { frameBox, areaBox, imageBox, seen: overlap(areaBox, imageBox) };
}

/** How a circle of the picture comes out: its radii. */
export function roundness(seen: Box, distortion: number) {
  const bend = Math.sqrt(1 + distortion);
  const room = Math.min(seen.width / bend, seen.height * bend);
  const radius = room * 0.3;
  return { rx: radius * bend, ry: radius / bend, cx: seen.x + seen.width / 2, cy: seen.y + seen.height / 2 };
}

interface Props {
  crossing: Crossing;
  frame: Frame;
  width: number;
  height: number;
  /** Where the picture of the source is. */
  picture?: string | undefined;
}

/** A conversion at a small scale and in true proportion. */
export const CrossingDrawing = memo(function CrossingDrawing(props: Props) {
  const { crossing, frame, width, height, picture } = props;
  const room = { x: 1, y: 1, width: width - 2, height: height - 2 };
  const { frameBox, areaBox, imageBox, seen } = crossingBoxes(frame, crossing.image, room);
  const circle = seen && roundness(seen, crossing.distortion);
  return (
    <svg className="drawing" viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      {crossing.kept < 1 && <path className="d-cut" fillRule="evenodd" d={around(imageBox, seen)} />}
      <path className="d-bars" fillRule="evenodd" d={around(frameBox, seen)} />
      {seen && <rect className="d-picture" {...seen} />}
      <PictureIn href={picture} image={imageBox} seen={seen} />
      {circle && (!picture || crossing.distortion !== 0) && (
        <ellipse className={crossing.distortion === 0 ? "d-round" : "d-round bent"} {...circle} />
      )}
      {areaBox.height < frameBox.height - 1 || areaBox.width < frameBox.width - 1 ? (
        <rect className="d-area" {...areaBox} />
      ) : null}
      <rect className="d-edge" {...frameBox} />
      {crossing.imported?.moved && (
        <rect
          className="d-imported"
          {...crossingBoxes(frame, crossing.imported.image, room, crossing.image).imageBox}
        />
      )}
    </svg>
  );
});

/** The same with the picture of its source in it, where it has one. */
export function PicturedCrossing({
  source,
  ...props
}: Omit<Props, "picture"> & { source: Source | undefined }) {
  return <CrossingDrawing {...props} picture={usePicture(source, 320)} />;
}

/** Whether an edit leaves the pictures of sources as they are: then what comes of it can be shown with them. */
export const keepsPictures = ({ edit }: Edit) => edit !== "set_sources" && edit !== "apply_active_picture";

/** A frame alone, at true proportion, its masked part in ink. */
export function Silhouette({ frame, width, height }: { frame: Frame; width: number; height: number }) {
  const [w = 1, h = 1] = frame.values.geometry.raster;
  const aspect = pixelAspectOf(frame);
  const whole = stretchAcross({ x: 0, y: 0, width: w, height: h }, aspect);
  const place = placeIn(whole, { x: 1, y: 1, width: width - 2, height: height - 2 });
  const frameBox = placed(whole, place);
  const areaBox = placed(stretchAcross(frame.shape.picture_area, aspect), place);
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      <path className="d-bars" fillRule="evenodd" d={around(frameBox, areaBox)} />
      <rect className="d-edge" {...frameBox} />
    </svg>
  );
}

interface ShapeProps {
  raster: readonly number[];
  pixelAspect: string | number;
  width: number;
  height: number;
}

/** The outline of a frame that is in no project yet. */
export function FrameShapeMark({ raster: [w = 1, h = 1], pixelAspect, width, height }: ShapeProps) {
  const whole = stretchAcross({ x: 0, y: 0, width: w, height: h }, asNumber(pixelAspect) || 1);
  const place = placeIn(whole, { x: 1, y: 1, width: width - 2, height: height - 2 });
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      <rect className="d-edge" {...placed(whole, place)} />
    </svg>
  );
}
