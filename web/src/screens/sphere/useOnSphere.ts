import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, type OnSphere, type Orientation, type Source, settled } from "../../api/client";
import { refreshProject } from "../../api/queries";
import { failureText, useNotices } from "../../notices/notices";
import { useEdit } from "../../writes/useEdit";
import { useWrite } from "../../writes/useWrite";
import { type Point, same, turnedBy } from "./look";

/** One of the pictures on a sphere, and where a hand has moved it. */
export interface Standing {
  picture: number;
  width: string;
  orientation: Orientation;
}

/** The pictures that stand on a sphere: chosen, moved, added and taken off. */
export function useOnSphere(project: number, source: Source) {
  const client = useQueryClient();
  const edit = useEdit(project);
  const write = useWrite(["project", project]);
  const { tell } = useNotices();
  const list = source.values.on_sphere;
  const [chosen, setChosen] = useState(0);
  const [moved, setMoved] = useState<Standing>();
  const at = Math.min(chosen, list.length - 1);
  const stored = list[at];
  const resting = useRef<{ timer: ReturnType<typeof setTimeout>; keep: () => void }>(undefined);
  // What is stored counts again when it has changed, by the hand itself or in another way; not where keys have gone on
  // meanwhile.
  const before = useRef(list);
  useEffect(() => {
    if (!same(before.current, list) && !resting.current) setMoved(undefined);
    before.current = list;
  }, [list]);
  const standing: Standing | undefined =
    moved ?? (stored && { picture: at, width: String(stored.width), orientation: stored.orientation });

  const keepAll = (on_sphere: OnSphere[]) =>
    edit({ edit: "set_sources", sources: [source.id], set: { on_sphere } });
  const keep = (next: Standing) => {
    clearTimeout(resting.current?.timer);
    resting.current = undefined;
    setMoved(next);
    const changed = list.map((each, place) =>
      place === next.picture ? { ...each, width: next.width, orientation: next.orientation } : each,
    );
    if (!same(changed, list)) void keepAll(changed);
  };
  // Keys go on in steps: what they come to is one change.
  const keepSoon = (next: Standing) => {
    setMoved(next);
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

  const held = useRef<{ from: Point; standing: Standing; now: Standing | undefined } | null>(null);
  /** A hand takes the picture of this number, or puts the chosen one where nothing stands. */
  const take = (from: Point, picture: number | undefined) => {
    const place = picture ?? at;
    const each = list[place];
    if (!each) return;
    setChosen(place);
    const [yaw, pitch] = from.map((degrees) => degrees.toFixed(3)) as [string, string];
    const begun: Standing = {
      picture: place,
      width: String(each.width),
      orientation: picture === undefined ? { ...each.orientation, yaw, pitch } : each.orientation,
    };
    held.current = { from, standing: begun, now: picture === undefined ? begun : undefined };
    setMoved(begun);
  };
  const drag = (to: Point) => {
    const hand = held.current;
    if (!hand) return;
    const { standing, from } = hand;
    const orientation = turnedBy(standing.orientation, to[0] - from[0], to[1] - from[1]);
    hand.now = { ...standing, orientation };
    setMoved(hand.now);
  };
  const drop = () => {
    const now = held.current?.now;
    held.current = null;
    if (now) keep(now);
  };

  const added = async (what: string, adding: () => Promise<unknown>) => {
    try {
      await write(adding);
      await refreshProject(client, project);
      setChosen(list.length);
      setMoved(undefined);
    } catch (error) {
      tell(`${what} is not put on the sphere: ${failureText(error)}`);
    }
  };
  const path = { project, source: source.id };
  const addFile = (file: File, { yaw, pitch }: Orientation) =>
    added(file.name, () =>
      settled(
        api.POST("/api/v1/projects/{project}/sources/{source}/on-sphere", {
          params: { path, query: { file: file.name, yaw: String(yaw), pitch: String(pitch) } },
          body: file as never,
          bodySerializer: (body) => body as unknown as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    );
  const addCaption = (text: string, { yaw, pitch }: Orientation) =>
    added("The caption", () =>
      settled(
        api.POST("/api/v1/projects/{project}/sources/{source}/on-sphere/caption", {
          params: { path },
          body: { text, yaw, pitch },
        }),
      ),
    );
  const addStillOf = ({ values }: Source, { yaw, pitch }: Orientation) => {
    const still = values.still;
    if (!still?.content || !still.raster) return;
    const { content, file, raster } = still;
    setChosen(list.length);
    const orientation = { yaw, pitch, roll: "0" };
    void keepAll([...list, { content, file: file ?? "", raster, width: "40", orientation }]);
  };
  const remove = () => {
    if (stored) void keepAll(list.filter((_, place) => place !== at));
  };
  const setDistance = async (distance: string) => {
    if (!standing) return;
    try {
      const { width } = await settled(api.POST("/api/v1/sphere/distance", { body: { distance } }));
      keep({ ...standing, width });
    } catch (error) {
      tell(`Not moved: ${failureText(error)}`);
    }
  };
  return {
    list,
    at,
    standing,
    moved,
    choose: setChosen,
    keep,
    keepSoon,
    take,
    drag,
    drop,
    addFile,
    addCaption,
    addStillOf,
    remove,
    setDistance,
  };
}

export type OnSpheres = ReturnType<typeof useOnSphere>;
