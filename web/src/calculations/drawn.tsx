import { around, type Box, overlap, placed, placeIn, union } from "../drawing/box";
import { MeasureAcross, MeasureDown } from "../drawing/measure";
import { short } from "../drawing/numbers";
import { net, onUnrolled, unrolled } from "../drawing/unrolled";

export function Measured({ box, width, height }: { box: Box; width: string; height: string }) {
  return (
    <>
      <MeasureAcross from={box.x} to={box.x + box.width} at={box.y - 16} above label={width} />
      <MeasureDown from={box.y} to={box.y + box.height} at={box.x - 18} label={height} />
    </>
  );
}

/** A frame out of a container, or around it. */
export function Cut({
  container,
  frame: [width = 1, height = 1],
  aspect,
  into,
}: {
  container: Box;
  frame: readonly number[];
  aspect: number;
  into: Box;
}) {
  const wide = { ...container, width: container.width * aspect };
  const inner: Box = {
    x: (wide.width - width * aspect) / 2,
    y: (wide.height - height) / 2,
    width: width * aspect,
    height,
  };
  const place = placeIn(union(wide, inner), into);
  const [outer, cut] = [placed(wide, place), placed(inner, place)];
  return (
    <>
      <path className="d-cut" fillRule="evenodd" d={around(outer, overlap(outer, cut))} />
      <rect className="d-picture" {...cut} />
      <rect className="d-edge" {...outer} />
      <rect className="d-window" {...cut} />
      <Measured box={outer} width={String(container.width)} height={String(container.height)} />
      <MeasureAcross
        from={cut.x}
        to={cut.x + cut.width}
        at={cut.y + cut.height - 14}
        label={short(width, 1)}
        ink="blue"
      />
      <MeasureDown
        from={cut.y}
        to={cut.y + cut.height}
        at={cut.x + cut.width - 16}
        label={short(height, 1)}
        ink="blue"
      />
    </>
  );
}

export function One({ box, into }: { box: Box; into: Box }) {
  const whole = placed(box, placeIn(box, into));
  return (
    <>
      <rect className="d-picture" {...whole} />
      <rect className="d-edge" {...whole} />
      <Measured box={whole} width={String(box.width)} height={String(box.height)} />
    </>
  );
}

/** What a view sees or a picture covers, as an outline on the unrolled sphere; broken at the seam. */
export function OnSphere({
  outline,
  centre,
  into,
}: {
  outline: readonly number[][];
  centre: readonly number[];
  into: Box;
}) {
  const sphere = placed(
    { x: 0, y: 0, width: 360, height: 180 },
    placeIn({ x: 0, y: 0, width: 360, height: 180 }, into),
  );
  const path = unrolled([...outline, outline[0] ?? [0, 0]], sphere);
  const [x, y] = onUnrolled(centre, sphere);
  return (
    <>
      <rect className="d-picture" {...sphere} />
      <path className="d-third" d={net(sphere)} />
      <rect className="d-edge" {...sphere} />
      <clipPath id="sphere-edge">
        <rect {...sphere} />
      </clipPath>
      <g clipPath="url(#sphere-edge)">
        {[-1, 0, 1].map((turns) => (
          <path
            key={turns}
            className="d-window seen"
            d={path}
            transform={`translate(${turns * sphere.width} 0)`}
          />
        ))}
      </g>
      <path className="d-round" d={`M${x - 6} ${y}h12M${x} ${y - 6}v12`} />
      <Measured box={sphere} width="360°" height="180°" />
    </>
  );
}
