/**
 * The helpers of the pages for a test: each line of the input names one and what it is given, each
 * line of the output is what it gave. The truth that they are held against is that of the program.
 */
import { createInterface } from "node:readline";
import { renewed } from "../src/api/board";
import type { Board, Conversion, ListReading, Orientation, SourceValues } from "../src/api/client";
import { addressFor, addressOf, CALCULATIONS, calculationOf, entriesOf } from "../src/calculations";
import type { Box } from "../src/drawing/box";
import { ofUnrolled, onUnrolled, unrolled } from "../src/drawing/unrolled";
import { type Sides, sidesIn } from "../src/fields/sides";
import { draftOf, valuesOf } from "../src/fields/sourceDraft";
import { meanings, plainNumber } from "../src/fields/spelling";
import { formOf, formsWith, formText } from "../src/fields/sphereForm";
import { between } from "../src/fields/usePicked";
import { hasWords, wordsIn } from "../src/fields/words";
import { kept } from "../src/kept";
import { belongsTo, type Handlers, type Level, nameOf, Stack } from "../src/keys/stack";
import { type Event, next, RESTING } from "../src/screens/framing/hand";
import { ahead, dragged, type Move, nextClean, nudged, sized, zoomNear } from "../src/screens/framing/slide";
import { withNew } from "../src/screens/reading/files";
import { asText } from "../src/screens/reading/reading";
import { turnedBy, widened } from "../src/screens/sphere/look";

interface Nudge {
  move: Move;
  by: [number, number];
  conversion: Conversion;
  free: boolean;
}

/** Scopes of commands, and what each of them does with its key: takes it or passes it on. */
interface Scopes {
  scopes: [Level, Record<string, boolean>][];
  press: Parameters<typeof nameOf>[0];
  focus: Parameters<typeof belongsTo>[0];
  dialog: boolean;
  single: boolean;
}

function pressed({ scopes, press, focus, dialog, single }: Scopes): string | null {
  const stack = new Stack();
  let taken: string | null = null;
  scopes.forEach(([level, commands], at) => {
    const handlers = Object.entries(commands).map(([command, takes]) => [
      command,
      () => {
        if (takes) taken = `${at} ${command}`;
        return takes;
      },
    ]);
    stack.open(level, () => Object.fromEntries(handlers) as Handlers);
  });
  const name = nameOf(press);
  if (name && !belongsTo(focus, press)) stack.press(name, { dialog, single });
  return taken;
}

/** The hand after events, and what had to be stored on the way. */
function handled(events: Event[]) {
  let hand = RESTING;
  const stored: Move[] = [];
  for (const event of events) {
    // "stored" answers for what the hand was on with before the events since.
    const step = next(hand, event.is === "stored" ? { is: "stored", hand } : event);
    if (step.store) stored.push(step.store);
    hand = step.hand;
  }
  return { hand, stored };
}

const HELPERS: Record<string, (given: never) => unknown> = {
  ahead: ({ conversion, move }: { conversion: Conversion; move: Move }) => ahead(conversion, move),
  dragged: (given: Parameters<typeof dragged>[0]) => dragged(given),
  nudged: ({ move, by, conversion, free }: Nudge) => nudged(move, by, conversion, free),
  sidesIn: (sides: Sides) => sidesIn(sides),
  sized: ({ move, zoom, about }: { move: Move; zoom: string; about: { x: number; y: number } }) =>
    sized(move, zoom, about),
  zoomNear: ({ raw, rests }: { raw: number; rests: Conversion["rests"]["zoom"] }) => zoomNear(raw, rests),
  nextClean: ({ zoom, rests, up }: { zoom: string; rests: Conversion["rests"]["zoom"]; up: boolean }) =>
    nextClean(zoom, rests, up) ?? null,
  pressed,
  handled,
  meanings: (text: string) => meanings(text),
  plainNumber: ([text, unit]: [string, string]) => plainNumber(text, unit),
  form: (text: string) => formText(formOf(text)),
  formName: (text: string) => formsWith(text).find(([known]) => known === text)?.[1],
  turnedBy: ({ look, right, up }: { look: Orientation; right: number; up: number }) =>
    turnedBy(look, right, up),
  widened: ({ fov, times }: { fov: string; times: number }) => widened(fov, times),
  unrolledThere: ({ point, box, span }: { point: [number, number]; box: Box; span: [number, number] }) =>
    ofUnrolled(onUnrolled(point, box, span), box, span),
  unrolledLine: ({ points, box }: { points: [number, number][]; box: Box }) => unrolled(points, box),
  hasWords: ({ text, words }: { text: string; words: string }) => hasWords(text, wordsIn(words)),
  between: ({ ids, from, to }: { ids: number[]; from: number; to: number }) => between(ids, from, to),
  draft: (values: SourceValues) => valuesOf(draftOf({ values })),
  asText: ({ columns, rows }: Pick<ListReading, "columns" | "rows">) => asText(columns, rows),
  renewed: ({ before, changes }: { before: Board; changes: Board }) => renewed(before, changes),
  withNew: ({ now, newer }: { now: ListReading; newer: ListReading }) => withNew(now, newer),
  addresses: () =>
    CALCULATIONS.map((each) => {
      const entries = Object.fromEntries(each.fields.map(({ key }, at) => [key, `${at + 2}`]));
      return [entries, entriesOf(each, addressOf(each, entries))];
    }),
  requests: () => CALCULATIONS.map((each) => [each.id, each.ask(entriesOf(each, new URLSearchParams()))]),
  again: (request: Record<string, unknown>) => {
    const address = addressFor(request);
    if (!address) return null;
    const found = calculationOf(address.get("of"));
    return found.ask(entriesOf(found, address));
  },
  lines: ({ id, result }: { id: string; result: never }) => calculationOf(id).lines(result),
  kept: (text: string | null) => {
    const storage = { getItem: () => text } as unknown as Storage;
    return kept(
      () => storage,
      "any",
      "first",
      (value) => typeof value === "string",
    );
  },
  keptNowhere: () =>
    kept(
      () => {
        throw new Error("storage is switched off");
      },
      "any",
      "first",
      (value) => typeof value === "string",
    ),
};

createInterface({ input: process.stdin }).on("line", (line) => {
  const { helper, given } = JSON.parse(line) as { helper: string; given: never };
  const run = HELPERS[helper];
  process.stdout.write(`${JSON.stringify(run ? run(given) : null)}\n`);
});
