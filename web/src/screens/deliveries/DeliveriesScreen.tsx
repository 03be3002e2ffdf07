import { useMemo } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Frame } from "../../api/client";
import { Silhouette } from "../../drawing/crossing";
import { inLetters } from "../../drawing/letters";
import { count, raster, rate, ratio } from "../../drawing/numbers";
import { RecordList } from "../../fields/RecordList";
import { usePicked } from "../../fields/usePicked";
import { Key, keysOf } from "../../keys/Key";
import { methodName } from "../../keys/methods";
import { useCommands } from "../../keys/useCommands";
import { For, useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { FrameSheet } from "./FrameSheet";
import { ManyFrames } from "./ManyFrames";
import { NewFrame } from "./NewFrame";
import { Silhouettes } from "./Silhouettes";

export default function DeliveriesScreen() {
  const { project, frames } = useBoard();
  const plans = useMay("plan");
  const list = usePicked("frame", frames);
  const { here, picked } = list;
  const pickedIds = useMemo(() => new Set(picked.map(({ id }) => id)), [picked]);
  const named = { id: project.id, name: project.values.name };
  useCommands("screen", { add: () => list.choose("new") });
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Deliveries"
        window={`Deliveries of ${project.values.name}`}
        note={`${count(frames.length, "frame")}, drawn to one scale`}
      >
        <Link className="btn" to={`/projects/${project.id}/deliveries/ways`}>
          Working frames
        </Link>
        <Link className="btn" to={`/projects/${project.id}/deliveries/library`}>
          Frame library
        </Link>
        <For may="plan">
          <Button variant="ink" onClick={() => list.choose("new")} {...keysOf("add")}>
            New frame <Key of="add" />
          </Button>
        </For>
      </ScreenHead>
      {frames.length > 0 && (
        <section className="sheet silhouettes" aria-label="Silhouettes">
          <Silhouettes frames={frames} selected={here} onSelect={(frame) => list.choose(frame.id)} />
        </section>
      )}
      <div className="two-sheets">
        <section className="sheet" aria-label="Frames">
          <RecordList
            label="Frames"
            columns={7}
            height={inLetters(46)}
            heads={
              <>
                <th className="ps-3">
                  <span className="visually-hidden">shape</span>
                </th>
                <th>frame</th>
                <th>raster</th>
                <th>shows</th>
                <th>picture</th>
                <th>rate</th>
                <th>method</th>
              </>
            }
            records={frames}
            here={list.index}
            isPicked={({ id }) => pickedIds.has(id)}
            onRowClick={list.onRowClick}
            commands={list.commands}
            cells={(frame) => <FrameCells frame={frame} />}
            empty={
              frames.length === 0 && (
                <p className="quiet p-3">
                  No frames yet.
                  {plans && " Enter the first one on the right, or add it from the frame library."}
                </p>
              )
            }
          />
        </section>
        {here && picked.length > 1 ? (
          <ManyFrames project={named} picked={picked} onGone={list.leave} onAdded={(ids) => list.pick(ids)} />
        ) : here ? (
          <FrameSheet key={here.id} frame={here} project={named} onGone={list.leave} onAdded={list.choose} />
        ) : (
          <For may="plan">
            <NewFrame
              project={project.id}
              onAdded={list.choose}
              onCancel={frames.length > 0 ? list.leave : undefined}
            />
          </For>
        )}
      </div>
    </main>
  );
}

function FrameCells({ frame }: { frame: Frame }) {
  const { name, note, geometry, rate: exactRate, scan, method } = frame.values;
  return (
    <>
      <td className="ps-3">
        <Silhouette frame={frame} width={36} height={26} />
      </td>
      <td className="first">
        <b className="aside d-block">{name}</b>
        {note && <div className="quiet small aside">{note}</div>}
      </td>
      <td className="num">{raster(geometry.raster)}</td>
      <td className="num text-blue">{ratio(frame.shape.ratio.value)}</td>
      <td className="num">
        {geometry.picture_ratio
          ? raster([frame.shape.picture_area.width, frame.shape.picture_area.height])
          : "all"}
      </td>
      <td className="num">
        {rate(exactRate)}
        {scan === "interlaced" && <abbr title="interlaced"> i</abbr>}
      </td>
      <td>{method ? methodName(method) : <span className="quiet">board</span>}</td>
    </>
  );
}
