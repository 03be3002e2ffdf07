/** Rectangles on the screen. Geometry comes from the server; this only places drawings. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A mapping that keeps proportions: multiply, then add. */
export interface Place {
  k: number;
  x: number;
  y: number;
}

/** Puts a rectangle into a room, as large as it gets, in the middle. */
export function placeIn(what: Box, room: Box): Place {
  const k = Math.min(room.width / what.width, room.height / what.height);
  return {
    k,
    x: room.x + (room.width - what.width * k) / 2 - what.x * k,
    y: room.y + (room.height - what.height * k) / 2 - what.y * k,
  };
}

export function placed(box: Box, { k, x, y }: Place): Box {
  return { x: box.x * k + x, y: box.y * k + y, width: box.width * k, height: box.height * k };
}

export function union(a: Box, b: Box): Box {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}

export function overlap(a: Box, b: Box): Box | undefined {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : undefined;
}

/** The outline of a box with another one taken out, for one path with the even-odd rule. */
export function around(outer: Box, hole: Box | undefined): string {
  const path = ({ x, y, width, height }: Box) => `M${x} ${y}h${width}v${height}h${-width}Z`;
  return path(outer) + (hole ? path(hole) : "");
}

/** Frame pixels drawn at the shape that they have on a screen. */
export function stretchAcross(box: Box, pixelAspect: number): Box {
  return { ...box, x: box.x * pixelAspect, width: box.width * pixelAspect };
}
