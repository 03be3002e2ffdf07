import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { api, type FrameValues, type Library, settled } from "../../api/client";
import { libraryQuery } from "../../api/queries";
import { useEdit } from "../../api/useEdit";
import { FrameShapeMark } from "../../drawing/crossing";
import { count, raster, rate } from "../../drawing/numbers";
import { failureText, useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { pictureText } from "../footage/ActivePictureTools";
import { fileText } from "../paste/reading";

interface Entry {
  key: string;
  values: FrameValues;
  source: string;
  /** Of the house: its number and version. */
  own?: { id: number; version: number };
}

interface Group {
  title: string;
  entries: Entry[];
}

function groupsOf(library: Library): Group[] {
  const house = new Map<string, Entry[]>();
  for (const { id, version, values } of library.frames) {
    const entries = house.get(values.group) ?? [];
    entries.push({ key: `h${id}`, values: values.frame, source: "house", own: { id, version } });
    house.set(values.group, entries);
  }
  return [
    ...[...house].map(([title, entries]) => ({ title, entries })),
    ...library.published.map(({ title, frames }) => ({
      title,
      entries: frames.map(({ values, source }) => ({ key: `p${values.name}`, values, source })),
    })),
  ];
}

/** Published frames and those of the house, to be taken into the project. */
export function LibraryScreen() {
  const { project, sources } = useBoard();
  const client = useQueryClient();
  const navigate = useNavigate();
  const edit = useEdit(project.id);
  const { tell, tellFailure } = useNotices();
  const { data: library, error } = useQuery(libraryQuery);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [words, setWords] = useState("");
  const [like, setLike] = useState("");
  const refresh = () => client.invalidateQueries({ queryKey: libraryQuery.queryKey });
  const groups = library ? groupsOf(library) : [];
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = groups
    .map(({ title, entries }) => ({
      title,
      entries: entries.filter(({ values }) => {
        const text = `${title} ${values.name} ${raster(values.geometry.raster)}`.toLowerCase();
        return wanted.every((word) => text.includes(word));
      }),
    }))
    .filter(({ entries }) => entries.length > 0);
  const taken = groups.flatMap(({ entries }) => entries).filter(({ key }) => picked.has(key));
  const show = (ids: readonly number[]) =>
    navigate(`/projects/${project.id}/deliveries?frame=${ids[0]}&picked=${ids.join(".")}`);
  const add = async (values: FrameValues[]) => {
    const { done } = await edit({ edit: "add_frames", values });
    if (done) show(done.frames);
  };
  const addTurned = async () => {
    try {
      const turned = await Promise.all(
        taken.map(({ values }) => settled(api.POST("/api/v1/shape/frame/turned", { body: values }))),
      );
      await add(turned);
    } catch (failure) {
      tellFailure("Not turned", failure);
    }
  };
  const asFootage = async () => {
    const source = sources.find(({ id }) => String(id) === like) ?? sources[0];
    if (!source) return;
    try {
      await add([await settled(api.POST("/api/v1/shape/source/frame", { body: source.values }))]);
    } catch (failure) {
      tellFailure("No frame was made of it", failure);
    }
  };
  const undo = async () => {
    const turn = library?.history.undo;
    if (!library || !turn) return;
    try {
      await settled(
        api.POST("/api/v1/library/history/go", { body: { from: library.history.at, to: turn.to } }),
      );
      tell(`Undone in the library: ${turn.label}.`);
    } catch (failure) {
      tellFailure("Not undone", failure);
    }
    refresh();
  };
  const remove = async ({ own, values }: Entry) => {
    if (!own) return;
    try {
      await settled(
        api.DELETE("/api/v1/library/frames/{frame}", {
          params: { path: { frame: own.id }, header: { "If-Match": String(own.version) } },
        }),
      );
      tell(`“${values.name}” is taken out of the library.`);
    } catch (failure) {
      tellFailure("Not taken out", failure);
    }
    refresh();
  };
  const takeIn = async (event: ChangeEvent<HTMLInputElement>) => {
    const input = event.target;
    const [file] = input.files ?? [];
    if (!file) return;
    try {
      const response = await fetch("/api/v1/library/import", {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: await fileText(file),
      });
      const answer = await response.json();
      if (!response.ok) tell(`Nothing was taken in: ${answer.detail} ${answer.hint}`);
      else tell(`${answer.added} taken in, ${answer.known} were there already.`);
    } catch (failure) {
      tell(`Nothing was taken in: ${failureText(failure)}`);
    }
    input.value = "";
    refresh();
  };
  return (
    <main className="page">
      <div className="page-head">
        <span>
          <Link to={`/projects/${project.id}/deliveries`}>Deliveries</Link> <span className="quiet">›</span>
        </span>
        <h1>Frame library</h1>
        <span className="quiet">published frames with their source, and what the house keeps</span>
        <div className="end">
          <Form.Control
            type="search"
            className="filter"
            aria-label="Show only frames with these words"
            placeholder="show only … (scope, 2160, upright)"
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          <Button disabled={taken.length === 0} onClick={addTurned}>
            Add turned
          </Button>
          <Button
            variant="ink"
            disabled={taken.length === 0}
            onClick={() => add(taken.map(({ values }) => values))}
          >
            {taken.length === 0 ? "Add frames" : `Add ${count(taken.length, "frame")}`}
          </Button>
        </div>
      </div>
      {error && <div className="notice">{failureText(error)}</div>}
      <div className="two-sheets library">
        <section className="sheet" aria-label="Frames to take">
          <div className="scroll">
            <Table className="register">
              <colgroup>
                <col style={{ width: "2.6rem" }} />
                <col style={{ width: "3.2rem" }} />
                <col style={{ width: "10.5rem" }} />
                <col style={{ width: "8.5rem" }} />
                <col />
              </colgroup>
              {shown.map(({ title, entries }) => (
                <tbody key={title}>
                  <tr>
                    <th colSpan={5} scope="colgroup" className="ps-3">
                      {title}
                    </th>
                  </tr>
                  {entries.map((entry) => (
                    <LibraryRow
                      key={entry.key}
                      entry={entry}
                      picked={picked.has(entry.key)}
                      onPick={(on) => {
                        const next = new Set(picked);
                        if (on) next.add(entry.key);
                        else next.delete(entry.key);
                        setPicked(next);
                      }}
                      onRemove={() => remove(entry)}
                    />
                  ))}
                </tbody>
              ))}
            </Table>
            {library && shown.length === 0 && <p className="quiet p-3">No frame has all of these words.</p>}
          </div>
        </section>
        <section className="sheet" aria-label="From elsewhere">
          <div className="sheet-head">
            <h2>From a clip</h2>
          </div>
          <div className="tools">
            <div className="tool-row">
              <Form.Select
                aria-label="As this footage"
                value={like || String(sources[0]?.id ?? "")}
                onChange={(event) => setLike(event.target.value)}
              >
                {sources.map(({ id, values }) => (
                  <option key={id} value={id}>
                    {values.name}
                  </option>
                ))}
              </Form.Select>
              <Button size="sm" disabled={sources.length === 0} onClick={asFootage}>
                Add a frame as this footage
              </Button>
            </div>
            <p className="quiet small mb-0">
              Its upright picture with square pixels, at its rate, scan and range.
            </p>
          </div>
          <div className="sheet-head rule">
            <h2>From a ratio</h2>
          </div>
          <div className="tools">
            <Link className="btn btn-sm" to={`/projects/${project.id}/deliveries?frame=new&by=ratio`}>
              A ratio out of a container
            </Link>
          </div>
          <div className="sheet-head rule">
            <h2>Active pictures of the house</h2>
          </div>
          <ActivePictures library={library} onChange={refresh} />
          <div className="sheet-head rule">
            <h2>The house library as a file</h2>
          </div>
          <div className="tools">
            <div className="tool-row">
              <a className="btn btn-sm" href="/api/v1/library/export" download="ratiomet-library.json">
                Save as JSON
              </a>
              <Form.Control
                type="file"
                size="sm"
                accept=".json,application/json"
                aria-label="Take in a library file"
                onChange={takeIn}
              />
              <Button
                size="sm"
                disabled={!library?.history.undo}
                title={library?.history.undo?.label}
                onClick={undo}
              >
                Undo in the library
              </Button>
            </div>
            <p className="quiet small mb-0">
              House frames and active pictures, to be taken in elsewhere. What is there already stays as it
              is.
            </p>
          </div>
        </section>
      </div>
    </main>
  );
}

interface RowProps {
  entry: Entry;
  picked: boolean;
  onPick: (on: boolean) => void;
  onRemove: () => void;
}

function LibraryRow({ entry, picked, onPick, onRemove }: RowProps) {
  const { values, source, own } = entry;
  const { raster: size, pixel_aspect: aspect, picture_ratio: picture } = values.geometry;
  const more = [
    aspect !== "1" && `${aspect} pixels`,
    picture && `picture ${picture}`,
    values.rate && `at ${rate(values.rate)}`,
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <tr aria-selected={picked}>
      <td className="ps-3">
        <Form.Check
          checked={picked}
          aria-label={`Take ${values.name}`}
          onChange={(event) => onPick(event.target.checked)}
        />
      </td>
      <td>
        <FrameShapeMark raster={size} pixelAspect={aspect} width={34} height={24} />
      </td>
      <td>
        <b>{values.name}</b>
      </td>
      <td className="num">
        {raster(size)}
        {more && <small className="d-block quiet">{more}</small>}
      </td>
      <td className="quiet small">
        {own ? (
          <Button
            size="sm"
            variant="plain"
            onClick={onRemove}
            aria-label={`Take ${values.name} out of the library`}
          >
            Take out
          </Button>
        ) : (
          source
        )}
      </td>
    </tr>
  );
}

function ActivePictures({ library, onChange }: { library?: Library; onChange: () => void }) {
  const { tell, tellFailure } = useNotices();
  const [guide, setGuide] = useState("");
  const pictures = library?.active_pictures ?? [];
  const remove = async (id: number, version: number, name: string) => {
    try {
      await settled(
        api.DELETE("/api/v1/library/active-pictures/{picture}", {
          params: { path: { picture: id }, header: { "If-Match": String(version) } },
        }),
      );
      tell(`“${name}” is taken out of the library.`);
    } catch (failure) {
      tellFailure("Not taken out", failure);
    }
    onChange();
  };
  const add = async () => {
    try {
      await settled(
        api.POST("/api/v1/library/active-pictures", {
          body: { name: `${guide.trim()} guide`, guide: guide.trim() },
        }),
      );
      setGuide("");
    } catch (failure) {
      tellFailure("Not kept", failure);
    }
    onChange();
  };
  return (
    <div className="tools">
      <ul className="plain">
        {pictures.map(({ id, version, values }) => (
          <li key={id}>
            <span>{pictureText(values)}</span>
            <Button
              size="sm"
              variant="plain"
              aria-label={`Take ${values.name} out of the library`}
              onClick={() => remove(id, version, values.name)}
            >
              Take out
            </Button>
          </li>
        ))}
        {pictures.length === 0 && (
          <li className="quiet">None yet. Keep the insets of a source by name on the Footage screen.</li>
        )}
      </ul>
      <div className="tool-row">
        <Form.Control
          size="sm"
          className="num"
          aria-label="Ratio of a new guide"
          placeholder="4:3"
          value={guide}
          onChange={(event) => setGuide(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && add()}
        />
        <Button size="sm" disabled={guide.trim() === ""} onClick={add}>
          Keep a guide of this ratio
        </Button>
      </div>
    </div>
  );
}
