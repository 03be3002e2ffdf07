import type { Severity } from "../api/client";

const WORDS = {
  stop: "must stop",
  caution: "needs a look",
  note: "note",
  clean: "clean",
  accepted: "accepted",
} as const;

/** The weight of the heaviest finding as a shape and an ink: never the ink alone. */
export function SeverityMark({
  severity,
  accepted,
  size = 11,
}: {
  severity: Severity | null | undefined;
  /** Whether somebody has accepted what was found. */
  accepted?: boolean | undefined;
  size?: number | undefined;
}) {
  const weight = accepted && (severity ?? "note") === "note" ? "accepted" : (severity ?? "clean");
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 12 12"
      className={`mark-${weight === "clean" || weight === "accepted" ? "ok" : weight}`}
      role="img"
      aria-label={WORDS[weight]}
    >
      {weight === "stop" && <rect x="1" y="1" width="10" height="10" fill="currentColor" />}
      {weight === "caution" && (
        <path d="M6 1.2 11.2 10.8H.8Z" fill="none" stroke="currentColor" strokeWidth="1.7" />
      )}
      {(weight === "note" || weight === "clean") && (
        <circle cx="6" cy="6" r="4.4" fill="none" stroke="currentColor" strokeWidth="1.7" />
      )}
      {weight === "accepted" && (
        <path d="M1.5 6.5 4.8 10 10.8 2" fill="none" stroke="currentColor" strokeWidth="1.9" />
      )}
      {weight === "note" && <circle cx="6" cy="6" r="1.3" fill="currentColor" />}
    </svg>
  );
}

/** Patterns that every drawing refers to; once in the page. */
export function DrawingPatterns() {
  return (
    <svg className="hidden-defs" aria-hidden="true">
      <defs>
        <pattern
          id="hatch-cut"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <line x1="0" y1="0" x2="0" y2="7" className="d-hatch-line" />
        </pattern>
      </defs>
    </svg>
  );
}
