import type { Conversion, Exact, FramingValues } from "../../api/client";
import type { Box } from "../../drawing/box";

/** Zoom and shift as they are being typed or dragged. */
export interface Move {
  zoom: string;
  x: string;
  y: string;
}

export const moveOf = ({ zoom, shift }: FramingValues): Move => ({
  zoom: String(zoom),
  x: String(shift[0]),
  y: String(shift[1]),
});

/** How near, in screen pixels, a picture comes to rest at its middle or at the end of its travel. */
const SNAP = 6;
/** How far, in screen pixels, it must be pushed on before an edge uncovers. */
const PUSH = 28;
/** The bounds that the server accepts. */
const FARTHEST = 1_000_000;
const LARGEST_ZOOM = 1_000;

/** The value of a written fraction, for placing a drawing. */
export function asNumber(text: string | number | undefined): number {
  const [above, below = "1"] = String(text ?? "").split(/[/:]/);
  const value = Number(above) / Number(below);
  return Number.isFinite(value) ? value : 0;
}

/** A number of at most so many decimals, as it is typed. */
function written(value: number, decimals: number): string {
  const held = Math.max(-FARTHEST, Math.min(value, FARTHEST));
  return String(Number(held.toFixed(decimals)) + 0);
}

/** The end of a travel: exact where that can be typed, else just inside. */
function end({ exact, value }: Exact, negative: boolean): string {
  const typed = exact.split("/").every((part) => part.length <= 12);
  const text = typed ? exact : String(Math.floor(value * 1000) / 1000);
  return text === "0" || !negative ? text : `-${text}`;
}

/** Where a picture that was taken hold of comes to rest on an axis. */
function settle(start: number, by: number, travel: Exact, k: number, free: boolean): string {
  const to = start + by;
  if (free) return written(to, 0);
  const [snap, push] = [SNAP / k, PUSH / k];
  if (Math.abs(to) < snap) return "0";
  const over = Math.abs(to) - travel.value;
  const held = Math.abs(start) <= travel.value + snap;
  if (held && over > -snap && over < push) return end(travel, to < 0);
  // Pushed on with intent: what it took to get over the edge does not count.
  return written(held && over >= push ? to - Math.sign(to) * push : to, 0);
}

interface Drag {
  /** The move when it was taken hold of. */
  start: Move;
  /** How far the pointer has gone, in delivery pixels. */
  by: { x: number; y: number };
  travel: { x: Exact; y: Exact };
  /** Screen pixels per delivery line. */
  k: number;
  /** Along the longer way only. */
  straight: boolean;
  /** Past middle and ends without resting there. */
  free: boolean;
}

/** The move of a picture that is dragged. */
export function dragged({ start, by, travel, k, straight, free }: Drag): Move {
  const across = !straight || Math.abs(by.x) >= Math.abs(by.y);
  const down = !straight || !across;
  return {
    zoom: start.zoom,
    x: across ? settle(asNumber(start.x), by.x, travel.x, k, free) : start.x,
    y: down ? settle(asNumber(start.y), by.y, travel.y, k, free) : start.y,
  };
}

/** The move after a nudge by whole delivery pixels. */
export function nudged(move: Move, x: number, y: number): Move {
  const by = (text: string, pixels: number) => (pixels === 0 ? text : written(asNumber(text) + pixels, 3));
  return { ...move, x: by(move.x, x), y: by(move.y, y) };
}

/** The move after pushing in (or out) by a factor about a point, both from the area's middle. */
export function pushed(move: Move, factor: number, about: { x: number; y: number }): Move {
  const before = asNumber(move.zoom) || 1;
  let zoom = Math.max(1 / LARGEST_ZOOM, Math.min(before * factor, LARGEST_ZOOM));
  // It comes to rest at the size of the method.
  if (before !== 1 && Math.abs(zoom - 1) < 0.008) zoom = 1;
  const text = String(Number(zoom.toFixed(4)));
  const ratio = asNumber(text) / before;
  const about1 = (at: number, shift: string) => written(at - (at - asNumber(shift)) * ratio, 1);
  return { zoom: text, x: about1(about.x, move.x), y: about1(about.y, move.y) };
}

/** Where the picture lands by the newest move, while the server's answer to it is on its way. */
export function ahead({ plan, framing }: Conversion, move: Move): Box {
  const { x, y, width, height } = plan.image;
  const zoom = asNumber(move.zoom) / (asNumber(framing.zoom) || 1) || 1;
  const [w, h] = [width.value * zoom, height.value * zoom];
  return {
    x: x.value + width.value / 2 + asNumber(move.x) - asNumber(framing.shift[0]) - w / 2,
    y: y.value + height.value / 2 + asNumber(move.y) - asNumber(framing.shift[1]) - h / 2,
    width: w,
    height: h,
  };
}
