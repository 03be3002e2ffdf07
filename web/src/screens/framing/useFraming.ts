import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import {
  type Conversion,
  type Entry,
  type Frame,
  type FramingValues,
  type Method,
  Refused,
  type Source,
} from "../../api/client";
import { conversionPreview, conversionQuery } from "../../api/queries";
import { asNumber } from "../../drawing/numbers";
import { methodName } from "../../keys/methods";
import { useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { waitForRest } from "../../writes/rest";
import { plainFraming, useChooseFraming } from "../../writes/useChooseFraming";
import { asked, type Candidate, type Event, type Hand, next, RESTING } from "./hand";
import type { Handles } from "./handles";
import { ahead, dragged, type Move, moveOf, nextClean, nudged, sized, zoomNear } from "./slide";

/** How long nudges must rest before they are stored as one change. */
const REST = 600;
/** How long after the server was not there it is asked again. */
const AGAIN = 1_500;

/** One conversion under the hand: what is typed, dragged, nudged or looked at, and what is stored. */
export function useFraming(source: Source, frame: Frame, conversion: Conversion) {
  const { project } = useBoard();
  const client = useQueryClient();
  const choose = useChooseFraming(project.id);
  // Who may not plan tries framings out: they are drawn and numbered, and nothing is stored.
  const plans = useMay("plan");
  const [hand, setHand] = useState<Hand>(RESTING);
  const typed = hand.on === "moving" ? hand.move : null;
  const entry = hand.on === "entering" ? hand.entry : null;
  const peek = hand.on === "peeking" ? hand.candidate : null;
  const [waits, setWaits] = useState(false);
  const key = { source: source.id, frame: frame.id };
  // What was chosen and is on its way to the server: keys that come faster go on from there.
  const chosen = useRef<FramingValues | null>(null);
  // The version that was there when the hand began: what others have made of it since is not overwritten unseen.
  const seen = useRef<number>(undefined);
  // What has come back is known before it is drawn.
  const stored = () =>
    client.getQueryData(conversionQuery({ project: project.id, ...key }).queryKey) ?? conversion;
  const current = (): Move => {
    const { framing, placed } = chosen.current
      ? { framing: chosen.current, placed: chosen.current }
      : stored();
    return { ...moveOf(placed), around: framing.method === "subject" };
  };
  const move = peek ? moveOf(peek.framing) : (typed ?? current());

  /** The framing of a move. A picture that is taken off its subject's place gets one of its own. */
  const framingOf = ({ zoom, x, y, around }: Move): FramingValues => {
    const { method, shift } = chosen.current ?? stored().framing;
    if (around)
      return { method: "subject", zoom: zoom.trim(), shift: method === "subject" ? shift : ["0", "0"] };
    return { method: method === "subject" ? "fill" : method, zoom: zoom.trim(), shift: [x.trim(), y.trim()] };
  };

  const path = { project: project.id, ...key };
  const stamp = `${source.version}.${frame.version}.${conversion.version}`;
  const ask = asked(hand, framingOf);
  const answer = useQuery({
    ...conversionPreview(path, ask ?? {}, stamp),
    enabled: ask !== null,
    retry: false,
    refetchInterval: (query) => (query.state.status === "error" ? AGAIN : false),
  });
  const preview = ask === null ? undefined : answer.data;
  const problem = preview && !preview.sound ? preview.problem : undefined;
  // The last good drawing stays while what is typed is refused.
  const [lastGood, setLastGood] = useState(conversion);
  // What was chosen is drawn before the server has it, where it was looked at already: the methods side by side are.
  const [taken, setTaken] = useState<FramingValues | null>(null);
  const cards = `${source.version}.${frame.version}`;
  const looked = taken && client.getQueryData(conversionPreview(path, { own: taken }, cards).queryKey);
  const stays = looked?.sound ? looked.value : conversion;
  const shown = ask === null ? stays : preview?.sound ? preview.value : lastGood;
  useEffect(() => setLastGood(shown), [shown]);

  const what = `${source.values.name} into ${frame.values.name}`;
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  const stopWaiting = () => {
    clearTimeout(rest.current);
    rest.current = undefined;
  };
  const put = async (own: FramingValues | null) => {
    const before = latest.current.hand;
    const keeps = before.on === "moving" || before.on === "entering";
    chosen.current = own;
    setTaken(own);
    const set = await choose(key, seen.current ?? conversion.version, own, what, keeps);
    if (chosen.current === own) chosen.current = null;
    setTaken((now) => (now === own ? null : now));
    if (set === "unreachable") {
      setWaits(keeps);
      stopWaiting();
      if (latest.current.hand.on === "moving")
        rest.current = setTimeout(() => latest.current.commit(), AGAIN);
      return set;
    }
    setWaits(false);
    // What has been typed or nudged meanwhile goes on from there.
    if (set !== "refused") go({ is: "stored", hand: before });
    // What is there now has been told: it may be set all the same.
    else seen.current = stored().version;
    return set;
  };
  const commit = () => {
    stopWaiting();
    const { hand } = latest.current;
    if (plans && hand.on === "moving" && (!problem || answer.isPlaceholderData))
      void put(framingOf(hand.move));
  };
  const latest = useRef({ hand, commit });
  latest.current = { hand, commit };
  /** Goes on with something else; at once, for the keys that come before it is drawn. */
  const go = (event: Event) => {
    if (latest.current.hand.on === "resting") seen.current = stored().version;
    const { hand, store } = next(latest.current.hand, event);
    if (hand.on === "resting") seen.current = undefined;
    if (store) latest.current.commit();
    latest.current.hand = hand;
    setHand(hand);
  };
  const take = (move: Move) => go({ is: "move", move });
  const now = (): Move => (latest.current.hand.on === "moving" ? latest.current.hand.move : current());
  const drop = () => {
    stopWaiting();
    setWaits(false);
    go({ is: "drop" });
  };
  const soon = (move: Move) => {
    take(move);
    stopWaiting();
    rest.current = setTimeout(() => latest.current.commit(), REST);
  };
  useEffect(() => {
    const ask = () => {
      if (rest.current !== undefined) latest.current.commit();
    };
    const forget = waitForRest(ask);
    return () => {
      forget();
      ask();
    };
  }, []);

  // The size that is pushed to by hand, before it comes to rest anywhere.
  const raw = useRef(1);
  const push = (factor: number, about: { x: number; y: number }) => {
    const from = now();
    if (typed === null) raw.current = asNumber(from.zoom) || 1;
    raw.current *= factor;
    const zoom = zoomNear(raw.current, shown.rests.zoom);
    const middle = about.x === 0 && about.y === 0;
    soon(middle && from.around ? { ...from, zoom } : sized(from, zoom, about));
  };

  const start = useRef(move);
  const handles: Handles = {
    onStart: () => {
      start.current = now();
    },
    onDrag: (by, k, event) =>
      take(
        dragged({
          start: start.current,
          by,
          conversion,
          k,
          straight: event.shiftKey,
          free: event.ctrlKey || event.metaKey,
        }),
      ),
    onEnd: (moved) => moved && commit(),
    onCancel: drop,
    onPush: push,
  };

  return {
    path,
    what,
    /** What is drawn and numbered. */
    shown,
    move,
    /** Where the picture lands by the newest move. */
    image: ahead(shown, move),
    typed: typed !== null,
    /** Whether something is begun that is not stored. */
    begun: hand.on !== "resting",
    problem,
    /** Whether the server is not there: the drawing goes on by itself. */
    away: waits || (ask !== null && answer.isError && !(answer.error instanceof Refused)),
    handles,
    edit: (part: Partial<Move>) => {
      const from = now();
      take({ ...from, ...part, around: from.around && part.x === undefined && part.y === undefined });
    },
    commit,
    drop,
    /** Shifts by so many pixels; false where the picture ends there. */
    nudge: (by: [number, number], free: boolean): boolean => {
      const from = now();
      const to = nudged(from, by, shown, free);
      const moved = asNumber(to.x) !== asNumber(from.x) || asNumber(to.y) !== asNumber(from.y);
      if (moved) soon(to);
      return moved;
    },
    push,
    /** To the next clean size. */
    pushClean: (up: boolean) => {
      const from = now();
      const clean = nextClean(from.zoom, shown.rests.zoom, up);
      if (!clean) return;
      raw.current = clean.at.value;
      soon(from.around ? { ...from, zoom: clean.text } : sized(from, clean.text, { x: 0, y: 0 }));
    },
    setMethod: (method: Method | null) => {
      // The method takes zoom and shift away, those that still wait to be stored as well.
      stopWaiting();
      go({ is: "drop" });
      if (!plans) {
        if (method !== null)
          go({ is: "peek", candidate: { name: methodName(method), framing: plainFraming(method) } });
      } else if (method !== null || conversion.crossing.speaker === "own")
        void put(method === null ? null : plainFraming(method));
    },
    /** Stores another framing as that of this conversion. */
    takeFraming: (framing: FramingValues, name = methodName(framing.method)) => {
      stopWaiting();
      go({ is: "drop" });
      if (plans) void put(framing);
      else go({ is: "peek", candidate: { name, framing } });
    },
    /** Whether what is tried out here can be kept. */
    plans,
    peek,
    setPeek: (candidate: Candidate | null) => go(candidate ? { is: "peek", candidate } : { is: "drop" }),
    entry,
    enter: (entry: Entry) => go({ is: "enter", entry }),
    /** Stores the framing for the number that was typed into a dial. */
    commitEntry: async () => {
      if (!entry || !plans) return;
      try {
        const found = await client.fetchQuery({ ...conversionPreview(path, { entry }, stamp), retry: false });
        if (!found.sound) return;
        await put(found.value.framing);
      } catch {
        setWaits(true);
      }
    },
    choose: (choice: Parameters<typeof choose>[2]) => choose(key, conversion.version, choice, what),
  };
}

export type Framing = ReturnType<typeof useFraming>;
