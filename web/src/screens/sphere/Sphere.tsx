import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Source } from "../../api/client";
import { Key, keysOf } from "../../keys/Key";
import type { Command } from "../../keys/table";
import { useCommands } from "../../keys/useCommands";
import { useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { LevelTools } from "./LevelTools";
import { lookOf, turnedBy, widened } from "./look";
import { PictureTools } from "./PictureTools";
import { TurnTools } from "./TurnTools";
import { type Tool, Unrolled } from "./Unrolled";
import { useAddView } from "./useAddView";
import { useLook } from "./useLook";
import { useMarks } from "./useMarks";
import { useOnSphere } from "./useOnSphere";
import { useShown } from "./useShown";
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
  const plans = useMay("plan");
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

  const pictures = useOnSphere(project.id, source);
  const {
    span,
    unrolled,
    view: flat,
    seen,
  } = useShown(project.id, source, {
    turn,
    look,
    kept: view !== undefined,
    moved: pictures.moved,
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
  // Keys go to what a hand would move: the picture that is put, or the look.
  const put = tool === "put" ? pictures.standing : undefined;
  const lookFurther = (right: number, up: number) =>
    put
      ? pictures.keepSoon({ ...put, orientation: turnedBy(put.orientation, right, up) })
      : looking.keepSoon({ ...look, look: turnedBy(look.look, right, up) });
  const widen = (times: number) =>
    put
      ? pictures.keepSoon({ ...put, width: widened(put.width, times) })
      : looking.keepSoon({ ...look, fov: widened(look.fov, times) });
  useCommands("screen", {
    look: by(1, lookFurther),
    lookTen: by(10, lookFurther),
    turnSphere: by(1, (right, up) => void turned.step(right, up)),
    narrower: () => widen(1 / 1.1),
    wider: () => widen(1.1),
    putPictures: () => setTool(tool === "put" ? "turn" : "put"),
    takeOff: () => {
      if (!put) return false;
      pictures.remove();
      return true;
    },
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
  const tools: readonly (readonly [Tool, string, Command?])[] = [
    ["turn", "Turn the sphere"],
    ["look", "Point the view"],
    ...(plans ? ([["put", "Put pictures on it", "putPictures"]] as const) : []),
    ["horizon", "Mark the horizon", "markHorizon"],
    ["uprights", "Mark uprights", "markUprights"],
  ];
  const error = unrolled.error ?? flat.error;
  const onSphere = seen?.on_sphere ?? [];
  return (
    <main className="page" id="main">
      <ScreenHead
        title={`Sphere ${source.values.name}`}
        up={{ to: `/projects/${project.id}/footage?source=${source.id}`, name: "Footage" }}
      >
        <fieldset className="btn-group" aria-label="What a hand does in the unrolled sphere">
          {tools.map(([id, name, command]) => (
            <Button
              key={id}
              active={tool === id}
              aria-pressed={tool === id}
              onClick={() => setTool(id)}
              {...(command ? keysOf(command) : {})}
            >
              {name} {command && <Key of={command} />}
            </Button>
          ))}
        </fieldset>
        {!plans && <span className="quiet">Turned here, it is not saved: you can look, not change.</span>}
        <Link className="btn" to={`/projects/${project.id}/board`}>
          Board
        </Link>
      </ScreenHead>
      {error && <p role="alert">{error}</p>}
      <div className="sphere">
        <section className="sheet sphere-whole" aria-label="Unrolled">
          <Unrolled
            picture={unrolled.url}
            span={span}
            tool={tool}
            outline={seen?.seen.outline ?? []}
            centre={seen?.seen.centre ?? [0, 0]}
            seam={seen?.seam ?? []}
            pictures={onSphere.map(({ outline }) => outline)}
            chosen={tool === "put" ? pictures.at : -1}
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
            onTake={pictures.take}
            onDrag={pictures.drag}
            onDrop={pictures.drop}
          />
        </section>
        <section className="sheet sphere-flat" aria-label="View">
          <ViewPane
            picture={flat.url}
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
        <section className="sheet turns" aria-label="What is done with the sphere">
          {/* Notices come in at the lower left: what turns goes on being in reach. */}
          {tool === "put" ? (
            <PictureTools
              pictures={pictures}
              seen={onSphere}
              look={look.look}
              stills={sources.filter(({ values }) => values.still?.content && values.projection === "flat")}
            />
          ) : (
            <LevelTools
              found={marks.found}
              horizon={marks.horizon.length}
              uprights={marks.uprights.length}
              onLevel={level}
              onClear={marks.clear}
            />
          )}
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
