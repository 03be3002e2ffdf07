import { useEffect, useRef, useState } from "react";
import { api, type Orientation, type Source, settled } from "../../api/client";
import { failureText, useNotices } from "../../notices/notices";
import { useMay } from "../../people/may";
import { useEdit } from "../../writes/useEdit";
import { FIRST_LOOK, type Look, lookOf, type Point, type Size, same } from "./look";
import { useLatest } from "./useLatest";

/** Where a view looks: that of a source, which keeps it, or one that nothing keeps. */
export function useLook(project: number, sphere: Source, view: Source | undefined) {
  const edit = useEdit(project);
  const { tell } = useNotices();
  // Who may not plan looks around.
  const plans = useMay("plan");
  const [look, setLook] = useState<Look>(view ? lookOf(view) : FIRST_LOOK);
  const stored = view && lookOf(view);
  const resting = useRef<{ timer: ReturnType<typeof setTimeout>; keep: () => void }>(undefined);
  // What is stored counts when it has changed, or is another view's; not where keys have gone on meanwhile.
  const before = useRef({ of: view?.id, stored });
  useEffect(() => {
    const isOther = before.current.of !== view?.id;
    if (stored && !same(before.current.stored, stored) && (isOther || !resting.current)) setLook(stored);
    before.current = { of: view?.id, stored };
  }, [view?.id, stored]);

  const keep = (next: Look) => {
    clearTimeout(resting.current?.timer);
    resting.current = undefined;
    setLook(next);
    if (!plans || !view || same(next, stored)) return;
    const { raster, ...looks } = next;
    const seenSame = same(looks, { look: stored?.look, fov: stored?.fov });
    void edit({
      edit: "set_sources",
      sources: [view.id],
      set: {
        ...(!same(raster, stored?.raster) && { raster }),
        ...(!seenSame && { view: { sphere: sphere.id, fov: next.fov, orientation: next.look } }),
      },
    });
  };
  // Keys and wheel go on in steps: what they come to is one change.
  const keepSoon = (next: Look) => {
    setLook(next);
    clearTimeout(resting.current?.timer);
    const rest = () => keep(next);
    resting.current = { timer: setTimeout(rest, 700), keep: rest };
  };
  useEffect(
    () => () => {
      clearTimeout(resting.current?.timer);
      resting.current?.keep();
    },
    [],
  );

  const held = useRef<{ look: Orientation; moved: Orientation | undefined } | null>(null);
  const drag = useLatest(async (wish: { look: Orientation; size: Size; from: Size; to: Size }) => {
    const { size, from, to } = wish;
    const [[width, height], [from_x, from_y], [to_x, to_y]] = [size, from, to];
    const body = { look: wish.look, fov: look.fov, width, height, from_x, from_y, to_x, to_y };
    try {
      const moved = await settled(api.POST("/api/v1/sphere/look", { body }));
      if (held.current) held.current.moved = moved;
      setLook((now) => ({ ...now, look: moved }));
    } catch (error) {
      tell(`Not moved: ${failureText(error)}`);
    }
  });
  const under = useRef<Promise<void> | undefined>(undefined);
  const by = (size: Size, from: Size, to: Size) => {
    held.current ??= { look: look.look, moved: undefined };
    under.current = drag({ look: held.current.look, size, from, to });
  };
  const done = async () => {
    await under.current;
    const moved = held.current?.moved;
    held.current = null;
    if (moved) keep({ ...look, look: moved });
  };
  const at = ([longitude, latitude]: Point) =>
    setLook((now) => ({
      ...now,
      look: { yaw: longitude.toFixed(2), pitch: latitude.toFixed(2), roll: now.look.roll },
    }));
  return { look, setLook, keep, keepSoon, by, done, at };
}
