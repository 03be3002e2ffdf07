import type { ReactNode } from "react";
import type { TypingProfile } from "../api/client";

interface Question {
  key: Exclude<keyof TypingProfile, "zoom_decimals" | "place_decimals">;
  asks: string;
  answers: readonly (readonly [string, string])[];
  /** What the question is about, drawn for the answer at hand. */
  drawing: (answer: string) => ReactNode;
}

const frame = <rect className="d-edge" x="22" y="12" width="52" height="30" />;

/** The few questions whose answers say what a program asks for. */
export const QUESTIONS: readonly Question[] = [
  {
    key: "hundred",
    asks: "100 % is",
    answers: [
      ["native", "native size"],
      ["fitted", "fitted"],
      ["filled", "filled"],
    ],
    drawing: (answer) => (
      <>
        <rect
          className="d-window"
          {...(answer === "native"
            ? { x: 8, y: 3, width: 80, height: 48 }
            : answer === "fitted"
              ? { x: 30, y: 12, width: 36, height: 30 }
              : { x: 22, y: 5, width: 52, height: 44 })}
        />
        {frame}
      </>
    ),
  },
  {
    key: "zoom_unit",
    asks: "A size is written",
    answers: [
      ["percent", "in percent"],
      ["factor", "as a factor"],
    ],
    drawing: (answer) => (
      <text x="48" y="33" textAnchor="middle">
        {answer === "percent" ? "134.06 %" : "1.3406"}
      </text>
    ),
  },
  {
    key: "squeeze",
    asks: "The squeeze is set on the clip",
    answers: [
      ["on_clip", "yes"],
      ["apart", "no, width and height apart"],
    ],
    drawing: (answer) => (
      <>
        <ellipse className="d-circle" cx="24" cy="27" rx="7" ry="16" />
        <path className="d-sketch" d="M37 27h14M47 23l4 4-4 4" />
        <ellipse className="d-circle" cx="72" cy="27" rx={answer === "on_clip" ? 16 : 7} ry="16" />
      </>
    ),
  },
  {
    key: "borders",
    asks: "Borders are cut",
    answers: [
      ["before", "before scaling"],
      ["after", "after it, or not at all"],
    ],
    drawing: (answer) => (
      <>
        <rect className="d-cut" x="14" y="7" width="68" height="40" />
        <rect className={answer === "before" ? "d-window" : "d-area"} x="24" y="13" width="48" height="28" />
      </>
    ),
  },
  {
    key: "turned",
    asks: "A clip stored sideways is",
    answers: [
      ["first", "turned, then fitted"],
      ["last", "fitted, then turned"],
    ],
    drawing: (answer) => (
      <>
        <rect
          className="d-window"
          {...(answer === "first"
            ? { x: 12, y: 9, width: 20, height: 36 }
            : { x: 4, y: 16, width: 38, height: 22 })}
        />
        <path className="d-sketch" d="M47 27h10M53 23l4 4-4 4" />
        <rect className="d-edge" x="64" y="9" width="22" height="36" />
      </>
    ),
  },
  {
    key: "turn_sign",
    asks: "A turn is positive",
    answers: [
      ["clockwise", "clockwise"],
      ["anticlockwise", "anticlockwise"],
    ],
    drawing: (answer) => (
      <path
        className="d-sketch"
        d={
          answer === "clockwise"
            ? "M36 36a14 14 0 1 1 24 0M64 30l-4 6-6-4"
            : "M60 36a14 14 0 1 0-24 0M32 30l4 6 6-4"
        }
      />
    ),
  },
  {
    key: "zero",
    asks: "A place is measured",
    answers: [
      ["centre", "middle to middle"],
      ["corner_to_centre", "corner to middle"],
      ["corner", "corner to corner"],
    ],
    drawing: (answer) => (
      <>
        {frame}
        <rect className="d-window" x="32" y="20" width="52" height="30" />
        <path
          className="d-sketch"
          d={answer === "centre" ? "M48 27 58 35" : answer === "corner" ? "M22 12 32 20" : "M22 12 58 35"}
        />
      </>
    ),
  },
  {
    key: "unit",
    asks: "in",
    answers: [
      ["pixels", "pixels"],
      ["parts", "parts of the frame"],
    ],
    drawing: (answer) => (
      <text x="48" y="33" textAnchor="middle">
        {answer === "pixels" ? "54 px" : "0.05"}
      </text>
    ),
  },
  {
    key: "upwards",
    asks: "and grows",
    answers: [
      ["down", "downwards"],
      ["up", "upwards"],
    ],
    drawing: (answer) => (
      <>
        {frame}
        <path
          className="d-sketch"
          d={answer === "down" ? "M48 18v18M44 32l4 4 4-4" : "M48 36V18M44 22l4-4 4 4"}
        />
      </>
    ),
  },
];

/** The drawing of a question. */
export function QuestionMark({ children }: { children: ReactNode }) {
  return (
    <svg className="question-mark" viewBox="0 0 96 54" width="84" height="47" aria-hidden="true">
      {children}
    </svg>
  );
}
