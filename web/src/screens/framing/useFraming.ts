import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import {
  type Conversion,
  type Entry,
  type Frame,
  type FramingValues,
  type Method,
  type PreviewRequest,
  Refused,
  type Source,
} from "../../api/client";
import { waitForRest } from "../../api/inOrder";
import { conversionPreview, conversionQuery } from "../../api/queries";
import { useBoard } from "../../shell/ProjectLayout";
import { plainFraming, useChooseFraming } from "../board/useChooseFraming";
import type { Handles } from "./handles";
import { ahead, asNumber, dragged, type Move, moveOf, nextClean, nudged, sized, zoomNear } from "./slide";

/** How long nudges must rest before they are stored as one change. */
const REST = 600;
/** How long after the server was not there it is asked again. */
const AGAIN = 1_500;

/** Another framing that is looked at before it is taken. */
export interface Candidate {
  name: string;
  framing: FramingValues;
}

/** One conversion under the hand: what is typed, dragged, nudged or looked at, and what is stored. */
export function useFraming(source: Source, frame: Frame, conversion: Conversion) {
  const { project } = useBoard();
  const client = useQueryClient();
  const choose = useChooseFraming(project.id);
  const [typed, setTyped] = useState<Move | null>(null);
  const [entry, setEntry] = useState<Entry | null>(null);
  const [peek, setPeek] = useState<Candidate | null>(null);
  const [waits, setWaits] = useState(false);
  const key = { source: source.id, frame: frame.id };
  // What was chosen and is on its way to the server: keys that come faster go on from there.
  const chosen = useRef<FramingValues | null>(null);
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
  const ask: PreviewRequest | null = peek
    ? { own: peek.framing }
    : entry
      ? { entry }
      : typed
        ? { own: framingOf(typed) }
        : null;
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
  const shown = ask === null ? conversion : preview?.sound ? preview.value : lastGood;
  useEffect(() => setLastGood(shown), [shown]);

  const what = `${source.values.name} into ${frame.values.name}`;
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  const stopWaiting = () => {
    clearTimeout(rest.current);
    rest.current = undefined;
  };
  const put = async (own: FramingValues | null) => {
    const before = latest.current.typed;
    const keeps = before !== null || entry !== null;
    chosen.current = own;
    const set = await choose(key, conversion.version, own, what, keeps);
    if (chosen.current === own) chosen.current = null;
    if (set === "unreachable") {
      setWaits(keeps);
      stopWaiting();
      if (latest.current.typed) rest.current = setTimeout(() => latest.current.commit(), AGAIN);
      return set;
    }
    setWaits(false);
    // What has been typed or nudged meanwhile goes on from there.
    if (set !== "refused" && latest.current.typed === before) take(null);
    return set;
  };
  const commit = () => {
    stopWaiting();
    if (latest.current.typed && (!problem || answer.isPlaceholderData)) put(framingOf(latest.current.typed));
  };
  const latest = useRef({ typed, commit });
  latest.current = { typed, commit };
  const take = (next: Move | null) => {
    latest.current.typed = next;
    setTyped(next);
    if (next) {
      setEntry(null);
      setPeek(null);
    }
  };
  const now = () => latest.current.typed ?? current();
  const drop = () => {
    stopWaiting();
    setWaits(false);
    take(null);
    setEntry(null);
    setPeek(null);
  };
  const soon = (next: Move) => {
    take(next);
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
    nudge: (x: number, y: number) => soon(nudged(now(), x, y)),
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
      setEntry(null);
      setPeek(null);
      if (method !== null || conversion.crossing.speaker === "own")
        put(method === null ? null : plainFraming(method));
    },
    /** Stores another framing as that of this conversion. */
    takeFraming: (framing: FramingValues) => {
      stopWaiting();
      setPeek(null);
      put(framing);
    },
    peek,
    setPeek: (candidate: Candidate | null) => {
      if (latest.current.typed) latest.current.commit();
      setEntry(null);
      setPeek(candidate);
    },
    entry,
    enter: (next: Entry | null) => {
      if (next && latest.current.typed) latest.current.commit();
      setPeek(null);
      setEntry(next);
    },
    /** Stores the framing for the number that was typed into a dial. */
    commitEntry: async () => {
      if (!entry) return;
      try {
        const found = await client.fetchQuery({ ...conversionPreview(path, { entry }, stamp), retry: false });
        if (!found.sound) return;
        if ((await put(found.value.framing)) !== "unreachable") setEntry(null);
      } catch {
        setWaits(true);
      }
    },
    choose: (choice: Parameters<typeof choose>[2]) => choose(key, conversion.version, choice, what),
  };
}

export type Framing = ReturnType<typeof useFraming>;
