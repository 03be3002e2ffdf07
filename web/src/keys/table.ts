import type { Method } from "../api/client";
import { METHODS } from "./methods";

/** Where a command holds: the titles of the sheet of keys. */
export const PLACES = [
  "Everywhere",
  "Everywhere in a project",
  "Methods: of a conversion, of a selection, of a row or column",
  "On the board",
  "In a list",
  "In a framing",
  "In a proof",
  "In a sphere",
  "On the slide rule",
] as const;

type Place = (typeof PLACES)[number];

interface Entry {
  /** Each as `Control+`, `Shift+` and the key, letters small. */
  keys: readonly string[];
  does: string;
  place: Place;
  /** Whether it changes the project, which not everybody may. */
  changes?: true | undefined;
  /** How the keys are shown where there are many of them. */
  shown?: string | undefined;
}

const arrows = (held = "") => ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"].map((key) => held + key);

const method = (id: Method): Entry => {
  const { key, name, does } = METHODS[id];
  return { keys: [key], does: `${name}: ${does}`, place: PLACES[2] };
};

/** Every command that has a key: the handlers, the buttons and the sheet of keys take them from here. */
export const COMMANDS = {
  help: { keys: ["?"], does: "help for this screen, and its keys", place: "Everywhere" },
  notices: { keys: ["Control+."], does: "go to the newest notice", place: "Everywhere" },
  find: { keys: ["/"], does: "find a source, a frame, a conversion, a command", place: PLACES[1] },
  undo: { keys: ["u", "Control+z"], does: "undo", place: PLACES[1], changes: true },
  redo: { keys: ["Shift+u", "Control+Shift+z", "Control+y"], does: "redo", place: PLACES[1], changes: true },
  pictures: { keys: ["i"], does: "show pictures, or drawings alone", place: PLACES[1] },
  fit: method("fit"),
  fill: method("fill"),
  width: method("width"),
  height: method("height"),
  native: method("native"),
  stretch: method("stretch"),
  subject: method("subject"),
  follow: {
    keys: ["f"],
    does: "remove the setting here and follow the default",
    place: PLACES[2],
    changes: true,
  },
  move: {
    keys: [...arrows(), "Home", "End", "PageUp", "PageDown", "Control+Home", "Control+End"],
    shown: "arrows, Home, End, PgUp, PgDn",
    does: "move, with Ctrl Home and End to the first and the last cell; headings stand beyond the first row and column",
    place: "On the board",
  },
  extend: {
    keys: [
      ...arrows("Shift+"),
      ...["Home", "End", "PageUp", "PageDown"].map((key) => `Shift+${key}`),
      ...["Home", "End"].map((key) => `Control+Shift+${key}`),
    ],
    shown: "⇧ with these",
    does: "select a range",
    place: "On the board",
  },
  selectAll: {
    keys: ["Control+a"],
    does: "select everything shown, on the board and in lists",
    place: "On the board",
  },
  copySettings: {
    keys: ["c"],
    does: "copy the framing, or the settings of a source",
    place: "On the board",
    changes: true,
  },
  applySettings: { keys: ["p"], does: "apply them to the selection", place: "On the board", changes: true },
  rates: { keys: ["d"], does: "show rates instead of frames", place: "On the board" },
  open: { keys: ["Enter"], does: "open the framing", place: "On the board" },
  moveInList: {
    keys: ["ArrowUp", "ArrowDown", "PageUp", "PageDown", "Home", "End"],
    shown: "↑ ↓, PgUp, PgDn, Home, End",
    does: "move; with ⇧ select a range",
    place: "In a list",
  },
  extendInList: {
    keys: ["Shift+ArrowUp", "Shift+ArrowDown", "Shift+PageUp", "Shift+PageDown", "Shift+Home", "Shift+End"],
    shown: "⇧ with these",
    does: "select a range",
    place: "In a list",
  },
  selectSimilar: { keys: ["s"], does: "select similar sources", place: "In a list" },
  add: { keys: ["n"], does: "new source, new frame", place: "In a list", changes: true },
  nudge: { keys: arrows(), shown: "arrows", does: "shift the picture by 1 px", place: "In a framing" },
  nudgeTen: { keys: arrows("Shift+"), shown: "⇧ arrows", does: "by 10 px", place: "In a framing" },
  nudgeStep: {
    keys: arrows("Control+"),
    shown: "Ctrl arrows",
    does: "by the frame's rounding",
    place: "In a framing",
  },
  nudgePast: {
    keys: arrows("Control+Shift+"),
    shown: "Ctrl ⇧ arrows",
    does: "by 1 px, past the edge of the picture too",
    place: "In a framing",
  },
  pushIn: { keys: ["+", "="], does: "push in by 1 %", place: "In a framing" },
  pullOut: { keys: ["-"], does: "pull out by 1 %", place: "In a framing" },
  cleanAbove: { keys: ["."], does: "to the next clean size above", place: "In a framing" },
  cleanBelow: { keys: [","], does: "to the next clean size below", place: "In a framing" },
  previousFrame: { keys: ["["], does: "previous frame", place: "In a framing" },
  nextFrame: { keys: ["]"], does: "next frame", place: "In a framing" },
  previousSource: { keys: ["{"], does: "previous source", place: "In a framing" },
  nextSource: { keys: ["}"], does: "next source", place: "In a framing" },
  keepPlace: {
    keys: ["k"],
    does: "the same place of the picture as in the previous conversion",
    place: "In a framing",
  },
  pin: { keys: ["p"], does: "pin this framing", place: "In a framing", changes: true },
  compare: { keys: ["c"], does: "compare with the framing last previewed", place: "In a framing" },
  take: { keys: ["Enter"], does: "use the framing that is previewed", place: "In a framing", changes: true },
  allFrames: { keys: ["e"], does: "show every frame on the source", place: "In a framing" },
  stored: { keys: ["o"], does: "show the picture as stored", place: "In a framing" },
  subjectMark: { keys: ["s"], does: "mark the subject", place: "In a framing", changes: true },
  conventions: { keys: ["y"], does: "what to type: all conventions, or your own", place: "In a framing" },
  corner: { keys: ["v"], does: "view a corner", place: "In a framing" },
  magnify: { keys: ["Shift+v"], does: "view the corner larger", place: "In a framing" },
  guides: { keys: ["d"], does: "choose guides", place: "In a framing" },
  proof: { keys: ["r"], does: "prove it: carried out, compared, measured", place: "In a framing" },
  look: {
    keys: arrows(),
    shown: "arrows",
    does: "look 1° further; while pictures are put on it, move the chosen one",
    place: "In a sphere",
  },
  lookTen: { keys: arrows("Shift+"), shown: "⇧ arrows", does: "by 10°", place: "In a sphere" },
  turnSphere: {
    keys: arrows("Control+"),
    shown: "Ctrl arrows",
    does: "turn the sphere by 1°",
    place: "In a sphere",
  },
  narrower: { keys: ["+", "="], does: "a narrower view, or picture", place: "In a sphere" },
  wider: { keys: ["-"], does: "a wider view, or picture", place: "In a sphere" },
  markHorizon: { keys: ["h"], does: "mark the horizon", place: "In a sphere" },
  markUprights: { keys: ["j"], does: "mark what stands upright", place: "In a sphere" },
  putPictures: { keys: ["p"], does: "put pictures on the sphere", place: "In a sphere", changes: true },
  takeOff: { keys: ["Delete"], does: "take the chosen picture off it", place: "In a sphere", changes: true },
  levelSphere: { keys: ["Enter"], does: "level the sphere by the marks", place: "In a sphere" },
  loupe: { keys: arrows(), shown: "arrows", does: "move the loupes", place: "In a proof" },
  loupeLarger: { keys: ["+", "="], does: "magnify more", place: "In a proof" },
  loupeSmaller: { keys: ["-"], does: "magnify less", place: "In a proof" },
  variant: { keys: ["1", "2", "3", "4"], shown: "1 to 4", does: "choose a variant", place: "In a proof" },
  compareVariants: { keys: ["c"], does: "switch between the two that are compared", place: "In a proof" },
  takeVariant: {
    keys: ["Enter"],
    does: "take the variant that is chosen",
    place: "In a proof",
    changes: true,
  },
  back: {
    keys: ["Escape"],
    does: "take back the last thing begun; then back to the board, or to one selected record",
    place: "Everywhere",
  },
  ask: { keys: ["/"], does: "go to the question", place: "On the slide rule" },
  copyAnswer: { keys: ["c"], does: "copy question and answer", place: "On the slide rule" },
} as const satisfies Record<string, Entry>;

export type Command = keyof typeof COMMANDS;

export const entry = (command: Command): Entry => COMMANDS[command];

/** Whether a key is one character, with Shift or without: these can be switched off (WCAG 2.1.4). */
export const isSingle = (key: string) => key.replace(/^Shift\+/, "").length === 1;

const SHOWN: Record<string, string> = {
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowUp: "↑",
  ArrowDown: "↓",
  Escape: "Esc",
};

/** A key as it is written on a button. */
export function shown(key: string): string {
  return key
    .replace("Control+", "Ctrl ")
    .replace("Shift+", "⇧")
    .replace(/[A-Za-z]+$/, (name) => SHOWN[name] ?? (name.length === 1 ? name.toUpperCase() : name));
}

/** The same for `aria-keyshortcuts`. */
export function announced(key: string): string {
  return key.replace(/(^|\+)([a-z])$/, (_, before: string, letter: string) => before + letter.toUpperCase());
}
