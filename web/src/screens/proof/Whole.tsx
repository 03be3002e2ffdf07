import { type PointerEvent, useCallback, useRef, useState } from "react";
import { type Box, overlap, placed, placeIn } from "../../drawing/box";
import { MeasureAcross, MeasureDown } from "../../drawing/measure";
import { useRoom } from "../../drawing/useRoom";
import { Loupe } from "./Loupe";
import type { Mode } from "./modes";
import { type Layer, paint, paintDifference } from "./paint";

interface WholeProps {
  frame: Box;
  mode: Mode;
  layers: [Layer | undefined, Layer | undefined];
  /** Whether the other one is shown where they are switched. */
  other: boolean;
  split: number;
  onSplit: (split: number) => void;
  loupe: Box;
  onMiddle: (x: number, y: number) => void;
  mark: Box | undefined;
  marking: boolean;
  onMark: (box: Box) => void;
}

/** The whole frame in its dimensions, both pictures in it, and where the loupes look. */
export function Whole(props: WholeProps) {
  const { frame, mode, layers, other, split, onSplit, loupe, onMiddle, mark, marking, onMark } = props;
  const [ref, room] = useRoom<HTMLDivElement>();
  const halves = mode === "Side by side" ? 2 : 1;
  const place = placeIn(
    { ...frame, width: frame.width * halves + (halves - 1) * frame.width * 0.02 },
    { x: 46, y: 34, width: Math.max(40, room.width - 62), height: Math.max(40, room.height - 48) },
  );
  const second = frame.width * 1.02;
  const box = placed(frame, place);
  const hand = useRef<"split" | "loupe" | Box | null>(null);
  const [drawn, setDrawn] = useState<Box>();
  const at = (event: PointerEvent<Element>) => {
    const sheet = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - sheet.left - place.x) / place.k;
    return {
      x: halves === 2 && x > second ? x - second : x,
      y: (event.clientY - sheet.top - place.y) / place.k,
    };
  };
  const held = (from: { x: number; y: number }, to: { x: number; y: number }): Box | undefined =>
    overlap(
      {
        x: Math.round(Math.min(from.x, to.x)),
        y: Math.round(Math.min(from.y, to.y)),
        width: Math.round(Math.abs(from.x - to.x)),
        height: Math.round(Math.abs(from.y - to.y)),
      },
      frame,
    );
  const begin = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, y } = at(event);
    if (marking) hand.current = { x, y, width: 0, height: 0 };
    else if (mode === "Slider" && Math.abs(x - split * frame.width) * place.k < 8) hand.current = "split";
    else {
      hand.current = "loupe";
      onMiddle(x, y);
    }
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const now = hand.current;
    if (!now) return;
    const { x, y } = at(event);
    if (now === "split") onSplit(Math.min(Math.max(x / frame.width, 0), 1));
    else if (now === "loupe") onMiddle(x, y);
    else setDrawn(held(now, { x, y }));
  };
  const end = () => {
    if (drawn && drawn.width >= 8 && drawn.height >= 8) onMark(drawn);
    setDrawn(undefined);
    hand.current = null;
  };
  const draw = useCallback(
    (context: CanvasRenderingContext2D, onto: Box) => {
      const ratio = onto.width / Math.max(1, room.width);
      const inRoom = (box: Box, by = 0) => {
        const { x, y, width, height } = placed({ ...box, x: box.x + by }, place);
        return { x: x * ratio, y: y * ratio, width: width * ratio, height: height * ratio };
      };
      context.clearRect(0, 0, onto.width, onto.height);
      const [left, right] = layers;
      const show = (layer: Layer | undefined, part: Box, by = 0) => {
        if (layer) paint(context, layer, part, inRoom(part, by));
      };
      if (mode === "Side by side") {
        show(left, frame);
        show(right, frame, second);
      } else if (mode === "Switch") show(other ? left : right, frame);
      else if (mode === "Difference") {
        if (left && right) paintDifference(context, [left, right], frame, inRoom(frame));
      } else {
        const middle = split * frame.width;
        show(left, { ...frame, width: middle });
        show(right, { ...frame, x: middle, width: frame.width - middle });
      }
    },
    [room.width, place, layers, mode, other, split, frame, second],
  );
  const spots = [loupe].flatMap((spot) => (halves === 2 ? [spot, { ...spot, x: spot.x + second }] : [spot]));
  const divider = box.x + split * box.width;
  return (
    <div className="drawing-box proof-whole" ref={ref}>
      <Loupe label="Both pictures in the frame" draw={draw} />
      <svg
        className={marking ? "drawing marking" : "drawing grip"}
        viewBox={`0 0 ${room.width} ${room.height}`}
        role="img"
        aria-label={`The frame, ${frame.width} by ${frame.height} pixels`}
        onPointerDown={begin}
        onPointerMove={move}
        onPointerUp={end}
        onPointerCancel={end}
      >
        <rect className="d-frame" {...box} />
        {halves === 2 && <rect className="d-frame" {...placed({ ...frame, x: second }, place)} />}
        <MeasureAcross
          from={box.x}
          to={box.x + box.width}
          at={box.y - 14}
          label={String(frame.width)}
          above
        />
        <MeasureDown from={box.y} to={box.y + box.height} at={box.x - 14} label={String(frame.height)} />
        {mode === "Slider" && (
          <g className="d-divider">
            <path d={`M${divider} ${box.y}V${box.y + box.height}`} />
            <circle cx={divider} cy={box.y + box.height / 2} r={7} />
          </g>
        )}
        {mark && !drawn && <rect className="d-edge-mark" {...placed(mark, place)} />}
        {drawn && <rect className="d-edge-mark" {...placed(drawn, place)} />}
        {spots.map((spot) => (
          <rect key={spot.x} className="d-loupe" {...placed(spot, place)} />
        ))}
      </svg>
    </div>
  );
}
