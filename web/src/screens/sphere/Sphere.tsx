import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { api, type Orientation, type Source, settled } from "../../api/client";
import { projectKey, refreshProject } from "../../api/queries";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { failureText, useNotices } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { useEdit } from "../../writes/useEdit";
import { useWrite } from "../../writes/useWrite";
import { type Levelled, LevelTools } from "./LevelTools";
import { FIRST_LOOK, further, type Look, lookOf, widened } from "./look";
import { TurnTools } from "./TurnTools";
import { type Point, type Tool, Unrolled } from "./Unrolled";
import { useFollowing, useLatest } from "./useLatest";
import { ViewPane } from "./ViewPane";
import { ViewTools } from "./ViewTools";

type Hold = "free" | "around" | "roll";

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
const points = (marks: readonly Point[]) => marks.map((mark) => mark.map((each) => each.toFixed(4)));

/** A sphere and the views out of it. */
export function Sphere({ source }: { source: Source }) {
  const { project, sources } = useBoard();
  const client = useQueryClient();
  const edit = useEdit(project.id);
  const write = useWrite(["project", project.id]);
  const { tell } = useNotices();
  const stored = source.values.turn;
  const [turn, setTurn] = useState<Orientation>(stored);
  const [tool, setTool] = useState<Tool>("turn");
  const [map, setMap] = useState(false);
  const [hold, setHold] = useState<Hold>("free");
  const views = sources.filter(({ values }) => values.view?.sphere === source.id);
  const [chosen, setChosen] = useState<number | undefined>(views[0]?.id);
  const view = views.find(({ id }) => id === chosen);
  const [free, setFree] = useState<Look>(view ? lookOf(view) : FIRST_LOOK);
  const [horizon, setHorizon] = useState<Point[]>([]);
  const [uprights, setUprights] = useState<[Point, Point][]>([]);
  // What is stored counts again when somebody else, or undo, has changed it.
  const before = useRef(stored);
  useEffect(() => {
    if (!same(before.current, stored)) setTurn(stored);
    before.current = stored;
  }, [stored]);
  const storedLook = view && lookOf(view);
  const lookBefore = useRef(storedLook);
  useEffect(() => {
    if (storedLook && !same(lookBefore.current, storedLook)) setFree(storedLook);
    lookBefore.current = storedLook;
  }, [storedLook]);

  const span = source.values.sphere.span.map(Number) as [number, number];
  const address = `/api/v1/projects/${project.id}/sources/${source.id}/sphere`;
  const picture = (show: string, [width, height]: [number, number], side: number) => {
    const part = Math.min(1, side / Math.max(width, height));
    const pixels = (length: number) => String(Math.max(32, Math.round(length * part)));
    const query = new URLSearchParams({
      show,
      width: pixels(width),
      height: pixels(height),
      yaw: String(turn.yaw),
      pitch: String(turn.pitch),
      roll: String(turn.roll),
    });
    if (show === "view") {
      query.set("look_yaw", String(free.look.yaw));
      query.set("look_pitch", String(free.look.pitch));
      query.set("look_roll", String(free.look.roll));
      query.set("fov", free.fov);
    }
    // The still itself may change.
    return `${address}?${query}#${source.picture}`;
  };
  const unrolledPicture = useFollowing(picture("unrolled", [span[0] * 10, span[1] * 10], 960));
  const viewPicture = useFollowing(picture("view", free.raster, 720));

  const path = { project: project.id, source: source.id };
  const asked = { raster: free.raster, look: free.look, fov: free.fov, turn };
  const { data: seen } = useQuery({
    queryKey: [...projectKey(project.id), "sphere", source.id, source.version, asked],
    queryFn: ({ signal }) =>
      settled(
        api.POST("/api/v1/projects/{project}/sources/{source}/sphere/look", {
          params: { path },
          body: asked,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 5_000,
    retry: false,
  });
  const marks = { turn, horizon: points(horizon), uprights: uprights.map(points) };
  const enough = horizon.length > 1 || uprights.length > 0;
  const { data: levelled, error: unsettled } = useQuery({
    queryKey: ["sphere", "level", marks],
    queryFn: ({ signal }) => settled(api.POST("/api/v1/sphere/level", { body: marks as never, signal })),
    enabled: enough,
    retry: false,
    gcTime: 5_000,
  });
  const found: Levelled = {
    level: enough ? levelled : undefined,
    problem: unsettled ? failureText(unsettled) : "",
  };

  const keepTurn = (next: Orientation) => {
    setTurn(next);
    if (!same(next, stored)) void edit({ edit: "set_sources", sources: [source.id], set: { turn: next } });
  };
  const keepLook = (next: Look) => {
    setFree(next);
    if (!view || same(next, storedLook)) return;
    const { raster, ...looks } = next;
    const seenSame = same(looks, { look: storedLook?.look, fov: storedLook?.fov });
    void edit({
      edit: "set_sources",
      sources: [view.id],
      set: {
        ...(!same(raster, storedLook?.raster) && { raster }),
        ...(!seenSame && { view: { sphere: source.id, fov: next.fov, orientation: next.look } }),
      },
    });
  };
  // Keys and wheel go on in steps: what they come to is one change.
  const resting = useRef<{ timer: ReturnType<typeof setTimeout>; keep: () => void }>(undefined);
  const keepSoon = (next: Look) => {
    setFree(next);
    clearTimeout(resting.current?.timer);
    const keep = () => {
      resting.current = undefined;
      keepLook(next);
    };
    resting.current = { timer: setTimeout(keep, 700), keep };
  };
  useEffect(
    () => () => {
      clearTimeout(resting.current?.timer);
      resting.current?.keep();
    },
    [],
  );

  // A hand on the unrolled sphere: from where it began, so that what it took stays under it.
  const held = useRef<{ turn: Orientation; moved: Orientation | undefined } | null>(null);
  const drag = useLatest(async (wish: { turn: Orientation; from: Point; to: Point; hold: Hold }) => {
    const { from, to, ...rest } = wish;
    const [one, other] = points([from, to]);
    const body = { ...rest, from: one, to: other };
    try {
      const moved = await settled(api.POST("/api/v1/sphere/drag", { body: body as never }));
      if (held.current) held.current.moved = moved;
      setTurn(moved);
    } catch (error) {
      tell(`Not turned: ${failureText(error)}`);
    }
  });
  const dragging = useRef<Promise<void> | undefined>(undefined);
  const turnBy = (from: Point, to: Point, keys: { shift: boolean; alt: boolean }) => {
    held.current ??= { turn, moved: undefined };
    const how = keys.shift ? "around" : keys.alt ? "roll" : hold;
    dragging.current = drag({ turn: held.current.turn, from, to, hold: how });
  };
  const turned = async () => {
    await dragging.current;
    const moved = held.current?.moved;
    held.current = null;
    if (moved) keepTurn(moved);
  };
  const turnStep = async (right: number, up: number) => {
    turnBy([0, 0], [right, up], { shift: up === 0, alt: false });
    await turned();
  };

  // A hand in the view.
  const looking = useRef<{ look: Orientation; moved: Orientation | undefined } | null>(null);
  const dragLook = useLatest(
    async (wish: {
      look: Orientation;
      size: [number, number];
      from: [number, number];
      to: [number, number];
    }) => {
      const { look, size, from, to } = wish;
      const [[width, height], [from_x, from_y], [to_x, to_y]] = [size, from, to];
      const body = { look, fov: free.fov, width, height, from_x, from_y, to_x, to_y };
      try {
        const moved = await settled(api.POST("/api/v1/sphere/look", { body }));
        if (looking.current) looking.current.moved = moved;
        setFree((now) => ({ ...now, look: moved }));
      } catch (error) {
        tell(`Not moved: ${failureText(error)}`);
      }
    },
  );
  const lookDragging = useRef<Promise<void> | undefined>(undefined);
  const looked = async () => {
    await lookDragging.current;
    const moved = looking.current?.moved;
    looking.current = null;
    if (moved) keepLook({ ...free, look: moved });
  };
  const lookAt = ([longitude, latitude]: Point) =>
    setFree((now) => ({
      ...now,
      look: { yaw: longitude.toFixed(2), pitch: latitude.toFixed(2), roll: now.look.roll },
    }));

  const markHorizon = (at: Point) => {
    setUprights([]);
    setHorizon((now) => [...now, at]);
  };
  const markUpright = (line: [Point, Point]) => {
    setHorizon([]);
    setUprights((now) => [...now, line]);
  };
  // Marks in the view are finer than those in the whole sphere.
  const markInView = async (size: [number, number], from: [number, number], to: [number, number]) => {
    const pointAt = async ([x, y]: [number, number]): Promise<Point> => {
      const body = { look: free.look, fov: free.fov, width: size[0], height: size[1], x, y };
      const { point } = await settled(api.POST("/api/v1/sphere/point", { body }));
      return [point[0] ?? 0, point[1] ?? 0];
    };
    try {
      if (tool === "horizon") markHorizon(await pointAt(to));
      else if (!same(from, to)) markUpright([await pointAt(from), await pointAt(to)]);
    } catch (error) {
      tell(`Not marked: ${failureText(error)}`);
    }
  };

  const level = async () => {
    if (!found.level) return;
    keepTurn(found.level.turn);
    setHorizon([]);
    setUprights([]);
    setTool("turn");
  };
  const addView = async () => {
    const taken = new Set(sources.map(({ values }) => values.name));
    const name = (number: number) => `${source.values.name} view ${number}`;
    let number = views.length + 1;
    while (taken.has(name(number))) number += 1;
    try {
      const added = await write(() =>
        settled(
          api.POST("/api/v1/projects/{project}/sources", {
            params: { path: { project: project.id } },
            body: {
              ...source.values,
              name: name(number),
              note: "",
              geometry: {
                raster: free.raster,
                pixel_aspect: "1",
                squeeze: "1",
                active: { left: 0, top: 0, right: 0, bottom: 0 },
                rotation: 0,
              },
              projection: "flat",
              turn: { yaw: "0", pitch: "0", roll: "0" },
              view: { sphere: source.id, fov: free.fov, orientation: free.look },
              upright_known: true,
              subject: null,
              method: null,
              origin: null,
              still: null,
            },
          }),
        ),
      );
      await refreshProject(client, project.id);
      setChosen(added.id);
    } catch (error) {
      tell(`No view was made: ${failureText(error)}`);
    }
  };
  const by = (times: number, act: (right: number, up: number) => void) => (key: string) => {
    const [right, up] = STEPS[key.replace(/^.*\+/, "")] ?? [0, 0];
    act(right * times, up * times);
    return true;
  };
  const lookFurther = (right: number, up: number) =>
    keepSoon({ ...free, look: further(free.look, right, up) });
  useCommands("screen", {
    look: by(1, lookFurther),
    lookTen: by(10, lookFurther),
    turnSphere: by(1, (right, up) => void turnStep(right, up)),
    narrower: () => keepSoon({ ...free, fov: widened(free.fov, 1 / 1.1) }),
    wider: () => keepSoon({ ...free, fov: widened(free.fov, 1.1) }),
    markHorizon: () => setTool(tool === "horizon" ? "turn" : "horizon"),
    markUprights: () => setTool(tool === "uprights" ? "turn" : "uprights"),
    levelSphere: () => {
      if (!found.level) return false;
      void level();
      return true;
    },
    back: () => {
      if (tool === "turn" && horizon.length + uprights.length === 0) return false;
      setTool("turn");
      setHorizon([]);
      setUprights([]);
      return true;
    },
  });
  const tools: [Tool, string][] = [
    ["turn", "Turn the sphere"],
    ["look", "Point the view"],
    ["horizon", "Mark the horizon"],
    ["uprights", "Mark uprights"],
  ];
  const error = unrolledPicture.error ?? viewPicture.error;
  return (
    <main className="page" id="main">
      <ScreenHead
        title={`Sphere ${source.values.name}`}
        up={{ to: `/projects/${project.id}/footage?source=${source.id}`, name: "Footage" }}
      >
        <fieldset className="btn-group" aria-label="What a hand does in the unrolled sphere">
          {tools.map(([id, name]) => (
            <Button
              key={id}
              active={tool === id}
              aria-pressed={tool === id}
              onClick={() => setTool(id)}
              {...(id === "horizon"
                ? keysOf("markHorizon")
                : id === "uprights"
                  ? keysOf("markUprights")
                  : {})}
            >
              {name} {id === "horizon" && <Key of="markHorizon" />}
              {id === "uprights" && <Key of="markUprights" />}
            </Button>
          ))}
        </fieldset>
        <Link className="btn" to={`/projects/${project.id}/board`}>
          Board
        </Link>
      </ScreenHead>
      {error && <p role="alert">{error}</p>}
      <div className="sphere">
        <section className="sheet sphere-whole" aria-label="Unrolled">
          <Unrolled
            picture={unrolledPicture.url}
            span={span}
            tool={tool}
            outline={seen?.seen.outline ?? []}
            centre={seen?.seen.centre ?? [0, 0]}
            seam={seen?.seam ?? []}
            horizon={horizon}
            uprights={uprights}
            found={found.level?.horizon}
            label={`${source.values.name} unrolled, as it is turned`}
            onTurn={turnBy}
            onTurned={turned}
            onLook={lookAt}
            onLooked={() => keepLook(free)}
            onHorizon={markHorizon}
            onUpright={markUpright}
          />
        </section>
        <section className="sheet sphere-flat" aria-label="View">
          <ViewPane
            picture={viewPicture.url}
            raster={free.raster}
            rings={map ? (seen?.rings ?? []) : []}
            label={`What is seen ${free.fov}° wide`}
            onDrag={(size, from, to) => {
              looking.current ??= { look: free.look, moved: undefined };
              lookDragging.current = dragLook({ look: looking.current.look, size, from, to });
            }}
            onDragged={looked}
            marking={tool === "horizon" || tool === "uprights" ? tool : undefined}
            onMark={markInView}
            onWheel={(times) => keepSoon({ ...free, fov: widened(free.fov, times) })}
          />
        </section>
        <section className="sheet turns" aria-label="How the sphere is turned">
          <TurnTools turn={turn} hold={hold} onHold={setHold} onTurn={keepTurn} />
          <LevelTools
            found={found}
            horizon={horizon.length}
            uprights={uprights.length}
            onLevel={level}
            onClear={() => {
              setHorizon([]);
              setUprights([]);
            }}
          />
        </section>
        <section className="sheet looks" aria-label="Where the view looks">
          <ViewTools
            project={project.id}
            views={views}
            chosen={view}
            look={free}
            seen={seen}
            map={map}
            onMap={() => setMap(!map)}
            onChoose={(id) => {
              setChosen(id);
              const next = views.find((each) => each.id === id);
              if (next) setFree(lookOf(next));
            }}
            onLook={keepLook}
            onAdd={addView}
          />
        </section>
      </div>
    </main>
  );
}
