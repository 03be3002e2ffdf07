import { useDeferredValue, useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Source } from "../../api/client";
import { useEdit } from "../../api/useEdit";
import { count, raster, rate, ratio } from "../../drawing/numbers";
import { RecordList } from "../../fields/RecordList";
import { usePicked } from "../../fields/usePicked";
import { useBoard } from "../../shell/ProjectLayout";
import { useTreatment } from "../../shell/treatment";
import { useKeys } from "../../shell/useKeys";
import { GEOMETRY_PARTS, treatmentSet } from "./draft";
import { ManySources } from "./ManySources";
import { NewSource, SourceSheet } from "./SourceSheet";

export function FootageScreen() {
  const { project, sources } = useBoard();
  const [entry, setEntry] = useState("");
  const words = useDeferredValue(entry).toLowerCase();
  const shown = useMemo(() => {
    const wanted = words.split(/\s+/).filter(Boolean);
    if (wanted.length === 0) return sources;
    return sources.filter(({ values, alike }) => {
      const text =
        `${values.name} ${values.note ?? ""} ${alike} ${raster(values.geometry.raster)}`.toLowerCase();
      return wanted.every((word) => text.includes(word));
    });
  }, [sources, words]);
  const list = usePicked("source", sources, shown);
  const { here, picked } = list;
  const pickedIds = useMemo(() => new Set(picked.map(({ id }) => id)), [picked]);
  const edit = useEdit(project.id);
  const [treatment, setTreatment] = useTreatment();
  const pickAlike = () =>
    here && list.pick(sources.filter(({ alike }) => alike === here.alike).map(({ id }) => id));
  useKeys((key) => {
    if (key === "k") pickAlike();
    else if (key === "c" && here) {
      setTreatment({ of: "source", name: here.values.name, parts: GEOMETRY_PARTS, values: here.values });
    } else if (key === "g" && treatment?.of === "source") {
      const set = treatmentSet(treatment.values, treatment.parts);
      edit({ edit: "set_sources", sources: [...pickedIds], set });
    } else if (key === "n") list.choose("new");
    else return false;
    return true;
  });
  return (
    <main className="page">
      <div className="page-head">
        <h1>Footage</h1>
        <span className="quiet">{count(sources.length, "source")}, as stored and as seen</span>
        <div className="end">
          <Form.Control
            type="search"
            className="filter"
            aria-label="Show only sources with these words"
            placeholder="only … name, size, at 25"
            value={entry}
            onChange={(event) => setEntry(event.target.value)}
          />
          <Button
            disabled={shown.length === 0}
            onClick={() => list.pick(shown.map(({ id }) => id))}
            title="Pick every source that is shown"
          >
            Pick {shown.length === sources.length ? "all" : shown.length}
          </Button>
          <Button
            disabled={!here}
            onClick={pickAlike}
            aria-keyshortcuts="K"
            title="Pick all of the same kind as this one"
          >
            Pick its kind <kbd>K</kbd>
          </Button>
          <Link className="btn" to={`/projects/${project.id}/footage/files`}>
            Read files
          </Link>
          <Link className="btn" to={`/projects/${project.id}/footage/paste`}>
            Paste a list
          </Link>
          <Button variant="ink" onClick={() => list.choose("new")} aria-keyshortcuts="N">
            New source <kbd>N</kbd>
          </Button>
        </div>
      </div>
      <div className="two-sheets">
        <section className="sheet" aria-label="Sources">
          <RecordList
            label="Sources"
            columns={7}
            height={46}
            heads={
              <>
                <th className="ps-3">source</th>
                <th>stored</th>
                <th>pixels</th>
                <th>squeeze</th>
                <th>turn</th>
                <th>rate</th>
                <th>shows</th>
              </>
            }
            records={shown}
            here={list.index}
            isPicked={({ id }) => pickedIds.has(id)}
            onRowClick={list.onRowClick}
            onKeyDown={list.onKeyDown}
            cells={(source) => <SourceCells source={source} />}
            empty={
              <>
                {sources.length === 0 && (
                  <p className="quiet p-3">
                    No footage yet. Describe the first source at the right, read files, or paste a list.
                  </p>
                )}
                {sources.length > 0 && shown.length === 0 && (
                  <p className="quiet p-3">No source has all of these words.</p>
                )}
              </>
            }
          />
          <div className="list-foot">
            <span>
              {picked.length > 1 ? `${picked.length} picked` : "shift and control pick several"} ·{" "}
              <kbd>Ctrl A</kbd> all
            </span>
            <a href={`/api/v1/projects/${project.id}/sources.csv`} download>
              Save as a list (CSV)
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
            onGone={list.leave}
          />
        ) : (
          <NewSource
            project={project.id}
            onAdded={list.choose}
            onCancel={sources.length > 0 ? list.leave : undefined}
          />
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
        {playback === "every_frame" && <abbr title="every frame once: slow or fast motion">⇥</abbr>}
      </td>
      <td className="num text-blue">{ratio(source.shape.upright.ratio.value)}</td>
    </>
  );
}
