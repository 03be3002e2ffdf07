import { useEffect, useRef, useState } from "react";
import { api, type Orientation, type Source, settled } from "../../api/client";
import { failureText, useNotices } from "../../notices/notices";
import { useMay } from "../../people/may";
import { useEdit } from "../../writes/useEdit";
import { type Hold, type Point, pointTexts, same } from "./look";
import { useLatest } from "./useLatest";

/** How a sphere is turned: while a hand is on it, typed, or by keys. It is kept when the hand lets go. */
export function useTurn(project: number, source: Source) {
  const edit = useEdit(project);
  const { tell } = useNotices();
  // Who may not plan tries turns out.
  const plans = useMay("plan");
  const stored = source.values.turn;
  const [turn, setTurn] = useState<Orientation>(stored);
  const [hold, setHold] = useState<Hold>("free");
  // What is stored counts again when somebody else, or undo, has changed it.
  const before = useRef(stored);
  useEffect(() => {
    if (!same(before.current, stored)) setTurn(stored);
    before.current = stored;
  }, [stored]);

  const keep = (next: Orientation) => {
    setTurn(next);
    if (plans && !same(next, stored))
      void edit({ edit: "set_sources", sources: [source.id], set: { turn: next } });
  };

  // From where it began, so that what the hand took stays under it.
  const held = useRef<{ turn: Orientation; moved: Orientation | undefined } | null>(null);
  const drag = useLatest(async (wish: { turn: Orientation; from: Point; to: Point; hold: Hold }) => {
    const { from, to, ...rest } = wish;
    const [one, other] = pointTexts([from, to]);
    const body = { ...rest, from: one, to: other };
    try {
      const moved = await settled(api.POST("/api/v1/sphere/drag", { body: body as never }));
      if (held.current) held.current.moved = moved;
      setTurn(moved);
    } catch (error) {
      tell(`Not turned: ${failureText(error)}`);
    }
  });
  const under = useRef<Promise<void> | undefined>(undefined);
  const by = (from: Point, to: Point, keys: { shift: boolean; alt: boolean }) => {
    held.current ??= { turn, moved: undefined };
    const how = keys.shift ? "around" : keys.alt ? "roll" : hold;
    under.current = drag({ turn: held.current.turn, from, to, hold: how });
  };
  const done = async () => {
    await under.current;
    const moved = held.current?.moved;
    held.current = null;
    if (moved) keep(moved);
  };
  const step = async (right: number, up: number) => {
    by([0, 0], [right, up], { shift: up === 0, alt: false });
    await done();
  };
  return { turn, hold, setHold, keep, by, done, step };
}
