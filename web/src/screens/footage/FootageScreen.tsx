import { useDeferredValue, useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Source } from "../../api/client";
import { inLetters } from "../../drawing/letters";
import { count, raster, rate, ratio } from "../../drawing/numbers";
import { RecordList } from "../../fields/RecordList";
import { GEOMETRY_PARTS, treatmentSet } from "../../fields/sourceDraft";
import { usePicked } from "../../fields/usePicked";
import { hasWords, wordsIn } from "../../fields/words";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { For, useMay } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { useTreatment } from "../../shell/treatment";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { ManySources } from "./ManySources";
import { NewSource, SourceSheet } from "./SourceSheet";

export default function FootageScreen() {
  const { project, sources, frames } = useBoard();
  const plans = useMay("plan");
  const [entry, setEntry] = useState("");
  const words = useDeferredValue(entry);
  const shown = useMemo(() => {
    const wanted = wordsIn(words);
    if (wanted.length === 0) return sources;
    return sources.filter(({ values, alike }) =>
      hasWords(`${values.name} ${values.note ?? ""} ${alike} ${raster(values.geometry.raster)}`, wanted),
    );
  }, [sources, words]);
  const list = usePicked("source", sources, shown);
  const { here, picked } = list;
  const pickedIds = useMemo(() => new Set(picked.map(({ id }) => id)), [picked]);
  const edit = useEdit(project.id);
  const [treatment, setTreatment] = useTreatment();
  const pickAlike = () =>
    here && list.pick(sources.filter(({ alike }) => alike === here.alike).map(({ id }) => id));
  useCommands("screen", {
    selectSimilar: () => pickAlike(),
    copySettings: () => {
      if (!here) return false;
      setTreatment({ of: "source", name: here.values.name, parts: GEOMETRY_PARTS, values: here.values });
      return true;
    },
    applySettings: () => {
      if (treatment?.of !== "source") return false;
      const set = treatmentSet(treatment.values, treatment.parts);
      void edit({ edit: "set_sources", sources: [...pickedIds], set });
      return true;
    },
    add: () => list.choose("new"),
  });
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Footage"
        window={`Footage of ${project.values.name}`}
        note={count(sources.length, "source")}
      >
        <Form.Control
          type="search"
          className="filter"
          aria-label="Filter sources"
          placeholder="Filter: name, size, 25 fps"
          value={entry}
          onChange={(event) => setEntry(event.target.value)}
        />
        <Button
          disabled={shown.length === 0}
          onClick={() => list.pick(shown.map(({ id }) => id))}
          {...tip("Select every source shown")}
        >
          Select {shown.length === sources.length ? "all" : shown.length}
        </Button>
        <Button
          disabled={!here}
          onClick={pickAlike}
          {...keysOf("selectSimilar")}
          {...tip("Select every source with the same values as this one")}
        >
          Select similar <Key of="selectSimilar" />
        </Button>
        <For may="plan">
          <Link className="btn" to={`/projects/${project.id}/footage/files`}>
            Read files
          </Link>
          <Link className="btn" to={`/projects/${project.id}/footage/paste`}>
            Paste list
          </Link>
          <Button variant="ink" onClick={() => list.choose("new")} {...keysOf("add")}>
            New source <Key of="add" />
          </Button>
        </For>
      </ScreenHead>
      <div className="two-sheets">
        <section className="sheet" aria-label="Sources">
          <RecordList
            label="Sources"
            columns={7}
            height={inLetters(46)}
            heads={
              <>
                <th className="ps-3">source</th>
                <th>stored</th>
                <th>pixels</th>
                <th>squeeze</th>
                <th>rotation</th>
                <th>rate</th>
                <th>shows</th>
              </>
            }
            records={shown}
            here={list.index}
            isPicked={({ id }) => pickedIds.has(id)}
            onRowClick={list.onRowClick}
            commands={list.commands}
            cells={(source) => <SourceCells source={source} />}
            empty={
              <>
                {sources.length === 0 && (
                  <p className="quiet p-3">
                    No footage yet.
                    {plans && " Enter the first source on the right, read files, or paste a list."}
                  </p>
                )}
                {sources.length > 0 && shown.length === 0 && (
                  <p className="quiet p-3">No source matches this filter.</p>
                )}
              </>
            }
          />
          <div className="list-foot">
            <span>
              {picked.length > 1 ? `${picked.length} selected` : "⇧ and Ctrl select several"} ·{" "}
              <kbd>Ctrl A</kbd> all
            </span>
            <a href={`/api/v1/projects/${project.id}/sources.csv`} download>
              Export list (CSV)
            </a>
          </div>
        </section>
        {here && picked.length > 1 ? (
          <ManySources
            project={{ id: project.id, name: project.values.name }}
            picked={picked}
            onGone={list.leave}
          />
        ) : here ? (
          <SourceSheet
            key={here.id}
            source={here}
            project={{ id: project.id, name: project.values.name }}
            frames={frames}
            onGone={list.leave}
          />
        ) : (
          <For may="plan">
            <NewSource
              project={project.id}
              onAdded={list.choose}
              onCancel={sources.length > 0 ? list.leave : undefined}
            />
          </For>
        )}
      </div>
    </main>
  );
}

function SourceCells({ source }: { source: Source }) {
  const { name, note, geometry, rate: exactRate, scan, playback } = source.values;
  const turn = { 0: "", 90: "90°", 180: "180°", 270: "270°" }[geometry.rotation] ?? "";
  return (
    <>
      <td className="ps-3 first">
        <b className="aside d-block">{name}</b>
        {note && <div className="quiet small aside">{note}</div>}
      </td>
      <td className="num">{raster(geometry.raster)}</td>
      <td className="num">{geometry.pixel_aspect === "1" ? "" : geometry.pixel_aspect}</td>
      <td className="num">{geometry.squeeze === "1" ? "" : `${geometry.squeeze}×`}</td>
      <td className="num">{turn}</td>
      <td className="num">
        {rate(exactRate)} {scan === "interlaced" && <abbr title="interlaced">i</abbr>}
        {playback === "every_frame" && <abbr title="plays every frame: slow or fast motion">⇥</abbr>}
      </td>
      <td className="num text-blue">{ratio(source.shape.upright.ratio.value)}</td>
    </>
  );
}
