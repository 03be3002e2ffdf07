import type { Entry, FramingValues, PreviewRequest } from "../../api/client";
import type { Move } from "./slide";

/** Another framing that is looked at before it is taken. */
export interface Candidate {
  name: string;
  framing: FramingValues;
}

/**
 * What the hand is on with: nothing; a move of the picture, typed, dragged or nudged; a number that is
 * being entered into the dial; another framing that is looked at. One at a time.
 */
export type Hand =
  | { on: "resting" }
  | { on: "moving"; move: Move }
  | { on: "entering"; entry: Entry }
  | { on: "peeking"; candidate: Candidate };

export const RESTING: Hand = { on: "resting" };

export type Event =
  | { is: "move"; move: Move }
  | { is: "enter"; entry: Entry }
  | { is: "peek"; candidate: Candidate }
  /** What was begun is dropped: Escape, a method, another framing. */
  | { is: "drop" }
  /** What was begun has been stored; what has been begun since goes on. */
  | { is: "stored"; hand: Hand };

/** What the hand is on with after an event, and the move that must be stored before it goes on. */
export function next(hand: Hand, event: Event): { hand: Hand; store?: Move | undefined } {
  // A move that is pending is never lost to a look or to the dial, and never stored by Escape.
  const pending = hand.on === "moving" ? { store: hand.move } : {};
  switch (event.is) {
    case "move":
      return { hand: { on: "moving", move: event.move } };
    case "enter":
      return { hand: { on: "entering", entry: event.entry }, ...pending };
    case "peek":
      return { hand: { on: "peeking", candidate: event.candidate }, ...pending };
    case "drop":
      return { hand: RESTING };
    case "stored":
      return { hand: hand === event.hand ? RESTING : hand };
  }
}

/** What is asked of the server, to draw what the hand is on with. */
export function asked(hand: Hand, framingOf: (move: Move) => FramingValues): PreviewRequest | null {
  switch (hand.on) {
    case "resting":
      return null;
    case "moving":
      return { own: framingOf(hand.move) };
    case "entering":
      return { entry: hand.entry };
    case "peeking":
      return { own: hand.candidate.framing };
  }
}
