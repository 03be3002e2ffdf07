import { type PointerEvent, useRef, useState } from "react";
import type { Subject } from "../../api/client";
import type { Box } from "../../drawing/box";
import { SubjectMark, subjectIn } from "../../drawing/subject";

interface Props {
  /** The drawing of the whole upright picture. */
  whole: Box;
  subject?: Subject | undefined;
  onSubject: (subject: Subject) => void;
}

type Side = -1 | 0 | 1;

/** What a drag does: draws a new box, moves the one that is there, or moves some of its sides. */
type Drag = { from: { x: number; y: number }; box: Box; now: Box | null } & (
  | { draws: true }
  | { draws: false; x: Side; y: Side }
);

const REACH = 9;

/** Marks a subject: a drag draws its box, the box moves by its inside, each side and corner by itself. */
export function SubjectLayer({ whole, subject, onSubject }: Props) {
  const drag = useRef<Drag | null>(null);
  const [draft, setDraft] = useState<Box | null>(null);
  const box = draft ?? (subject && subjectIn(subject, whole));

  const at = (event: PointerEvent<SVGRectElement>) => {
    const { left, top } = (event.currentTarget.ownerSVGElement as Element).getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const sideOf = (value: number, start: number, length: number): Side | undefined =>
    Math.abs(value - start) <= REACH
      ? -1
      : Math.abs(value - start - length) <= REACH
        ? 1
        : value > start && value < start + length
          ? 0
          : undefined;
  const onPointerDown = (event: PointerEvent<SVGRectElement>) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = at(event);
    const x = box && sideOf(from.x, box.x, box.width);
    const y = box && sideOf(from.y, box.y, box.height);
    drag.current =
      box && x !== undefined && y !== undefined
        ? { from, box, now: null, draws: false, x, y }
        : { from, box: { ...from, width: 0, height: 0 }, now: null, draws: true };
  };
  const onPointerMove = (event: PointerEvent<SVGRectElement>) => {
    const held = drag.current;
    if (!held) return;
    event.stopPropagation();
    const to = at(event);
    const by = { x: to.x - held.from.x, y: to.y - held.from.y };
    held.now = held.draws
      ? spanned(held.from, to, whole)
      : held.x === 0 && held.y === 0
        ? heldIn({ ...held.box, x: held.box.x + by.x, y: held.box.y + by.y }, whole)
        : spanned(
            { x: held.box.x + (held.x < 0 ? by.x : 0), y: held.box.y + (held.y < 0 ? by.y : 0) },
            {
              x: held.box.x + held.box.width + (held.x > 0 ? by.x : 0),
              y: held.box.y + held.box.height + (held.y > 0 ? by.y : 0),
            },
            whole,
          );
    setDraft(held.now);
  };
  const onPointerUp = (event: PointerEvent<SVGRectElement>) => {
    event.stopPropagation();
    // As it was moved last: that may not have been drawn yet.
    const now = drag.current?.now;
    drag.current = null;
    if (now && now.width > 3 && now.height > 3) onSubject(sharesOf(now, whole));
    setDraft(null);
  };
  const onPointerCancel = () => {
    drag.current = null;
    setDraft(null);
  };
  return (
    <>
      {box && <SubjectMark box={box} named />}
      {box && <rect className="d-subject-fill" {...box} />}
      <rect
        className="d-reach"
        {...whole}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={onPointerCancel}
      />
    </>
  );
}

const clamp = (value: number, low: number, high: number) => Math.max(low, Math.min(value, high));

/** The box between two points, inside the picture. */
function spanned(one: { x: number; y: number }, other: { x: number; y: number }, whole: Box): Box {
  const x = [one.x, other.x].map((each) => clamp(each, whole.x, whole.x + whole.width));
  const y = [one.y, other.y].map((each) => clamp(each, whole.y, whole.y + whole.height));
  const [left, top] = [Math.min(...x), Math.min(...y)];
  return { x: left, y: top, width: Math.max(...x) - left, height: Math.max(...y) - top };
}

/** The box moved inside the picture. */
function heldIn(box: Box, whole: Box): Box {
  return {
    ...box,
    x: clamp(box.x, whole.x, whole.x + whole.width - box.width),
    y: clamp(box.y, whole.y, whole.y + whole.height - box.height),
  };
}

/** A box as shares of the picture, in thousandths: finer than a hand can mark. */
export function sharesOf(box: Box, whole: Box): Subject {
  const thousandth = (value: number) => Math.round(value * 1000);
  const x = clamp(thousandth((box.x - whole.x) / whole.width), 0, 999);
  const y = clamp(thousandth((box.y - whole.y) / whole.height), 0, 999);
  const text = (value: number) => String(value / 1000);
  return {
    x: text(x),
    y: text(y),
    width: text(clamp(thousandth(box.width / whole.width), 1, 1000 - x)),
    height: text(clamp(thousandth(box.height / whole.height), 1, 1000 - y)),
  };
}
