import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { api, type Source, settled } from "../../api/client";
import { projectKey } from "../../api/queries";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { LevelTools } from "./LevelTools";
import { further, lookOf, type Size, widened } from "./look";
import { TurnTools } from "./TurnTools";
import { type Tool, Unrolled } from "./Unrolled";
import { useAddView } from "./useAddView";
import { useFollowing } from "./useLatest";
import { useLook } from "./useLook";
import { useMarks } from "./useMarks";
import { useTurn } from "./useTurn";
import { ViewPane } from "./ViewPane";
import { ViewTools } from "./ViewTools";

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** A sphere and the views out of it. */
export function Sphere({ source }: { source: Source }) {
  const { project, sources } = useBoard();
  const [tool, setTool] = useState<Tool>("turn");
  const [map, setMap] = useState(false);
  const views = sources.filter(({ values }) => values.view?.sphere === source.id);
  const [chosen, setChosen] = useState<number | undefined>(views[0]?.id);
  const view = views.find(({ id }) => id === chosen);
  const turned = useTurn(project.id, source);
  const looking = useLook(project.id, source, view);
  const { turn } = turned;
  const { look } = looking;
  const marks = useMarks(turn);
  const addView = useAddView(project.id, sources, source);

  const span = source.values.sphere.span.map(Number) as [number, number];
  const picture = (show: string, [width, height]: Size, side: number) => {
    const part = Math.min(1, side / Math.max(width, height));
    const pixels = (length: number) => String(Math.max(32, Math.round(length * part)));
    const { yaw, pitch, roll } = turn;
    const query = new URLSearchParams({
      show,
      width: pixels(width),
      height: pixels(height),
      yaw: String(yaw),
      pitch: String(pitch),
      roll: String(roll),
      ...(show === "view" && {
        look_yaw: String(look.look.yaw),
        look_pitch: String(look.look.pitch),
        look_roll: String(look.look.roll),
        fov: look.fov,
      }),
    });
    // The still itself may change.
    return `/api/v1/projects/${project.id}/sources/${source.id}/sphere?${query}#${source.picture}`;
  };
  const unrolledPicture = useFollowing(picture("unrolled", [span[0] * 10, span[1] * 10], 960));
  const viewPicture = useFollowing(picture("view", look.raster, 720));

  const asked = { raster: look.raster, look: look.look, fov: look.fov, turn };
  const { data: seen } = useQuery({
    queryKey: [...projectKey(project.id), "sphere", source.id, source.version, asked],
    queryFn: ({ signal }) =>
      settled(
        api.POST("/api/v1/projects/{project}/sources/{source}/sphere/look", {
          params: { path: { project: project.id, source: source.id } },
          body: asked,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 5_000,
    retry: false,
  });

  const level = () => {
    if (!marks.found.level) return false;
    turned.keep(marks.found.level.turn);
    marks.clear();
    setTool("turn");
    return true;
  };
  const by = (times: number, act: (right: number, up: number) => void) => (key: string) => {
    const [right, up] = STEPS[key.replace(/^.*\+/, "")] ?? [0, 0];
    act(right * times, up * times);
    return true;
  };
  const lookFurther = (right: number, up: number) =>
    looking.keepSoon({ ...look, look: further(look.look, right, up) });
  const widen = (times: number) => looking.keepSoon({ ...look, fov: widened(look.fov, times) });
  useCommands("screen", {
    look: by(1, lookFurther),
    lookTen: by(10, lookFurther),
    turnSphere: by(1, (right, up) => void turned.step(right, up)),
    narrower: () => widen(1 / 1.1),
    wider: () => widen(1.1),
    markHorizon: () => setTool(tool === "horizon" ? "turn" : "horizon"),
    markUprights: () => setTool(tool === "uprights" ? "turn" : "uprights"),
    levelSphere: level,
    back: () => {
      if (tool === "turn" && marks.horizon.length + marks.uprights.length === 0) return false;
      setTool("turn");
      marks.clear();
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
            horizon={marks.horizon}
            uprights={marks.uprights}
            found={marks.found.level?.horizon}
            label={`${source.values.name} unrolled, as it is turned`}
            onTurn={turned.by}
            onTurned={turned.done}
            onLook={looking.at}
            onLooked={() => looking.keep(look)}
            onHorizon={marks.addHorizon}
            onUpright={marks.addUpright}
          />
        </section>
        <section className="sheet sphere-flat" aria-label="View">
          <ViewPane
            picture={viewPicture.url}
            raster={look.raster}
            rings={map ? (seen?.rings ?? []) : []}
            label={`What is seen ${look.fov}° wide`}
            onDrag={looking.by}
            onDragged={looking.done}
            marking={tool === "horizon" || tool === "uprights" ? tool : undefined}
            onMark={(size, from, to) => {
              if (tool === "horizon" || tool === "uprights") void marks.inView(tool, look, size, from, to);
            }}
            onWheel={widen}
          />
        </section>
        <section className="sheet turns" aria-label="How the sphere is turned">
          {/* Notices come in at the lower left: what turns goes on being in reach. */}
          <LevelTools
            found={marks.found}
            horizon={marks.horizon.length}
            uprights={marks.uprights.length}
            onLevel={level}
            onClear={marks.clear}
          />
          <TurnTools turn={turn} hold={turned.hold} onHold={turned.setHold} onTurn={turned.keep} />
        </section>
        <section className="sheet looks" aria-label="Where the view looks">
          <ViewTools
            project={project.id}
            views={views}
            chosen={view}
            look={look}
            seen={seen}
            map={map}
            onMap={() => setMap(!map)}
            onChoose={(id) => {
              setChosen(id);
              const next = views.find((each) => each.id === id);
              if (next) looking.setLook(lookOf(next));
            }}
            onLook={looking.keep}
            onAdd={async () => {
              const added = await addView(look);
              if (added !== undefined) setChosen(added);
            }}
          />
        </section>
      </div>
    </main>
  );
}
