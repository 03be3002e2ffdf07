import type { Conversion, Exact, FramingValues, Rest } from "../../api/client";
import type { Box } from "../../drawing/box";
import { asNumber } from "../../drawing/numbers";

/** Zoom and shift as they are being typed or dragged. */
export interface Move {
  zoom: string;
  x: string;
  y: string;
  /** Whether it stays where the subject puts it, whatever x and y are meanwhile. */
  around?: boolean | undefined;
}

export const moveOf = ({ zoom, shift }: FramingValues): Move => ({
  zoom: String(zoom),
  x: String(shift[0]),
  y: String(shift[1]),
});

/** How near, in screen pixels, a picture comes to rest at a place. */
const SNAP = 6;
/** How near, as a share, a size comes to rest. */
const SNAP_ZOOM = 0.008;
/** The bounds that the server accepts. */
const FARTHEST = 1_000_000;
const LARGEST_ZOOM = 1_000;

/** A number of at most so many decimals, as it is typed. */
function written(value: number, decimals: number): string {
  const held = Math.max(-FARTHEST, Math.min(value, FARTHEST));
  return String(Number(held.toFixed(decimals)) + 0);
}

function nearest(rests: readonly Rest[], to: number): Rest | undefined {
  const off = ({ at }: Rest) => Math.abs(at.value - to);
  return rests.reduce<Rest | undefined>(
    (best, rest) => (best && off(best) <= off(rest) ? best : rest),
    undefined,
  );
}

interface Axis {
  start: number;
  by: number;
  rests: readonly Rest[];
  travel: Exact;
  k: number;
  free: boolean;
}

/**
 * A shift no farther out than the picture reaches, or than it was already. Past its edge only who means it
 * goes: with the key that frees the hand.
 */
function reached(start: number, to: number, rests: readonly Rest[], travel: Exact, snap = 0): string | null {
  const past = Math.abs(start) - travel.value;
  if (past > 1e-6 && Math.sign(start) === Math.sign(to))
    return Math.abs(to) > Math.abs(start) ? written(start, 3) : null;
  if (Math.abs(to) - travel.value <= -snap) return null;
  return nearest(rests, Math.sign(to) * travel.value)?.text ?? "0";
}

/** Where a picture that was taken hold of comes to rest on an axis. */
function settle({ start, by, rests, travel, k, free }: Axis): string {
  const to = start + by;
  if (free) return written(to, 0);
  const snap = SNAP / k;
  const held = reached(start, to, rests, travel, snap);
  if (held !== null) return held;
  const rest = nearest(rests, to);
  return rest && Math.abs(rest.at.value - to) < snap ? rest.text : written(to, 0);
}

interface Drag {
  /** The move when it was taken hold of. */
  start: Move;
  /** How far the pointer has gone, in delivery pixels. */
  by: { x: number; y: number };
  conversion: Conversion;
  /** Screen pixels per delivery line. */
  k: number;
  /** Along the longer way only. */
  straight: boolean;
  /** Past every place to rest. */
  free: boolean;
}

/** The move of a picture that is dragged. */
export function dragged({ start, by, conversion, k, straight, free }: Drag): Move {
  const { rests, plan } = conversion;
  const across = !straight || Math.abs(by.x) >= Math.abs(by.y);
  const down = !straight || !across;
  const axis = (axis: "x" | "y") =>
    settle({
      start: asNumber(start[axis]),
      by: by[axis],
      rests: rests[axis],
      travel: plan.travel[axis],
      k,
      free,
    });
  return { zoom: start.zoom, x: across ? axis("x") : start.x, y: down ? axis("y") : start.y };
}

/** The move after a nudge by whole delivery pixels. */
export function nudged(move: Move, [x, y]: [number, number], conversion: Conversion, free: boolean): Move {
  const { rests, plan } = conversion;
  const by = (axis: "x" | "y", pixels: number) => {
    if (pixels === 0) return move[axis];
    const start = asNumber(move[axis]);
    const held = free ? null : reached(start, start + pixels, rests[axis], plan.travel[axis]);
    return held ?? written(start + pixels, 3);
  };
  return { zoom: move.zoom, x: by("x", x), y: by("y", y) };
}

/** The move at another size, with a point of the picture held in place; the point from the area's middle. */
export function sized(move: Move, zoom: string, about: { x: number; y: number }): Move {
  const ratio = asNumber(zoom) / (asNumber(move.zoom) || 1);
  const held = (at: number, shift: string) =>
    asNumber(shift) === 0 && at === 0 ? shift : written(at - (at - asNumber(shift)) * ratio, 1);
  return { zoom, x: held(about.x, move.x), y: held(about.y, move.y) };
}

/** The written zoom for a size that is pushed to: at a place to rest when it is near one. */
export function zoomNear(raw: number, rests: readonly Rest[]): string {
  const zoom = Math.max(1 / LARGEST_ZOOM, Math.min(raw, LARGEST_ZOOM));
  const rest = nearest(rests, zoom);
  if (rest && Math.abs(rest.at.value / zoom - 1) < SNAP_ZOOM) return rest.text;
  return String(Number(zoom.toFixed(4)));
}

/** The next clean size above or below. */
export function nextClean(zoom: string, rests: readonly Rest[], up: boolean): Rest | undefined {
  const now = asNumber(zoom);
  const clean = rests.filter(({ reason }) => reason === "clean" || reason === "one_to_one");
  return up
    ? clean.find(({ at }) => at.value > now * 1.000001)
    : clean.findLast(({ at }) => at.value < now / 1.000001);
}

/** Where the picture lands by the newest move, while the server's answer to it is on its way. */
export function ahead({ plan, placed }: Conversion, move: Move): Box {
  const { x, y, width, height } = plan.image;
  const zoom = asNumber(move.zoom) / (asNumber(placed.zoom) || 1) || 1;
  const [w, h] = [width.value * zoom, height.value * zoom];
  return {
    x: x.value + width.value / 2 + asNumber(move.x) - asNumber(placed.shift[0]) - w / 2,
    y: y.value + height.value / 2 + asNumber(move.y) - asNumber(placed.shift[1]) - h / 2,
    width: w,
    height: h,
  };
}

const RESTING: Record<string, string> = {
  middle: "middle",
  end: "end of travel",
  third: "third",
  subject_middle: "on subject",
  subject_third: "subject third",
  method: "as the method",
  one_to_one: "1:1",
  fits: "just fits",
  covers: "just covers",
  clean: "clean",
};

/** Why a picture rests where it does, in words. */
export function restingAt(rests: readonly Rest[], text: string): string | undefined {
  const rest = rests.find((each) => each.text === text);
  return rest && RESTING[rest.reason];
}

/** A number of a field: as it was typed, but a long fraction as the decimal number that it comes to. */
export function shownNumber(text: string, typed: boolean): string {
  return typed || !text.includes("/") || text.length < 6 ? text : String(Number(asNumber(text).toFixed(4)));
}
