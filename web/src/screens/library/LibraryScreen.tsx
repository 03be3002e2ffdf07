import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { api, type FrameValues, type Library, settled } from "../../api/client";
import { libraryQuery } from "../../api/queries";
import { count, raster, rate } from "../../drawing/numbers";
import { fileText } from "../../fields/fileText";
import { hasWords, wordsIn } from "../../fields/words";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { useFrameLike } from "../../writes/useFrameLike";
import { ActivePictures } from "./ActivePictures";
import { Profiles } from "./Profiles";
import { type Entry, LibraryRow } from "./rows";

interface Group {
  title: string;
  entries: Entry[];
}

function groupsOf(library: Library): Group[] {
  const house = new Map<string, Entry[]>();
  for (const own of library.frames) {
    const { group, frame } = own.values;
    const entries = house.get(group) ?? [];
    entries.push({ key: `h${own.id}`, values: frame, own });
    house.set(group, entries);
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
export default function LibraryScreen() {
  const { project, sources } = useBoard();
  const client = useQueryClient();
  const navigate = useNavigate();
  const edit = useEdit(project.id);
  const addLike = useFrameLike(project.id);
  const { tell, tellFailure } = useNotices();
  const { data: library, error } = useQuery(libraryQuery);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [words, setWords] = useState("");
  const [like, setLike] = useState("");
  const [clipRate, setClipRate] = useState("");
  const refresh = () => client.invalidateQueries({ queryKey: libraryQuery.queryKey });
  const groups = library ? groupsOf(library) : [];
  const wanted = wordsIn(words);
  const shown = groups
    .map(({ title, entries }) => ({
      title,
      entries: entries.filter(({ values }) =>
        hasWords(`${title} ${values.name} ${raster(values.geometry.raster)}`, wanted),
      ),
    }))
    .filter(({ entries }) => entries.length > 0);
  const taken = groups.flatMap(({ entries }) => entries).filter(({ key }) => picked.has(key));
  const show = (ids: readonly number[]) =>
    navigate(`/projects/${project.id}/deliveries?frame=${ids[0]}`, { state: { picked: ids } });
  // The clips' rates by what is read of them: one spelling of each.
  const rates = new Map(
    sources.flatMap(({ values }) => (values.rate ? [[rate(values.rate), values.rate]] : [])),
  );
  const add = async (frames: FrameValues[]) => {
    const values = frames.map((frame) => ({ ...frame, rate: frame.rate ?? rates.get(clipRate) ?? null }));
    const { done } = await edit({ edit: "add_frames", values });
    if (done) void show(done.frames);
  };
  const addTurned = async () => {
    try {
      const turned = await Promise.all(
        taken.map(({ values }) => settled(api.POST("/api/v1/shape/frame/turned", { body: values }))),
      );
      await add(turned);
    } catch (failure) {
      tellFailure("Not added", failure);
    }
  };
  const asFootage = async () => {
    const source = sources.find(({ id }) => String(id) === like) ?? sources[0];
    const done = source && (await addLike(source));
    if (done) void show(done.frames);
  };
  const undo = async () => {
    const turn = library?.history.undo;
    if (!library || !turn) return;
    try {
      await settled(
        api.POST("/api/v1/library/history/go", { body: { from: library.history.at, to: turn.to } }),
      );
      tell(`Undone: ${turn.label}.`);
    } catch (failure) {
      tellFailure("Not undone", failure);
    }
    void refresh();
  };
  const takeIn = async (event: ChangeEvent<HTMLInputElement>) => {
    const input = event.target;
    const [file] = input.files ?? [];
    if (!file) return;
    try {
      const text = await fileText(file);
      const answer = await settled(
        api.POST("/api/v1/library/import", { body: text as never, bodySerializer: () => text }),
      );
      tell(`${answer.added} imported, ${answer.known} were already there.`);
    } catch (failure) {
      tellFailure("Nothing was imported", failure);
    }
    input.value = "";
    void refresh();
  };
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Frame library"
        up={{ to: `/projects/${project.id}/deliveries`, name: "Deliveries" }}
        note="published frames with their source, and house frames"
      >
        <Form.Control
          type="search"
          className="filter"
          aria-label="Filter frames"
          placeholder="Filter: scope, 2160, vertical"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <For may="plan">
          <Form.Select
            className="at-rate"
            aria-label="Frame rate of added frames"
            {...tip("For frames that have none of their own")}
            value={clipRate}
            onChange={(event) => setClipRate(event.target.value)}
          >
            <option value="">rate open</option>
            {[...rates.keys()].map((each) => (
              <option key={each} value={each}>
                at {each} fps
              </option>
            ))}
          </Form.Select>
          <Button disabled={taken.length === 0} onClick={addTurned}>
            Add rotated
          </Button>
          <Button
            variant="ink"
            disabled={taken.length === 0}
            onClick={() => add(taken.map(({ values }) => values))}
          >
            {taken.length === 0 ? "Add frames" : `Add ${count(taken.length, "frame")}`}
          </Button>
        </For>
      </ScreenHead>
      {error && <Notice>{failureText(error)}</Notice>}
      <div className="two-sheets library">
        <section className="sheet" aria-label="Frames">
          <div className="scroll">
            <Table className="register">
              <colgroup>
                <col style={{ width: "2.6rem" }} />
                <col style={{ width: "3.2rem" }} />
                <col style={{ width: "12rem" }} />
                <col style={{ width: "8rem" }} />
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
                    />
                  ))}
                </tbody>
              ))}
            </Table>
            {library && shown.length === 0 && <p className="quiet p-3">No frame matches this filter.</p>}
          </div>
        </section>
        <section className="sheet" aria-label="From elsewhere">
          <For may="plan">
            <div className="sheet-head">
              <h2>From a clip</h2>
            </div>
            <div className="tools">
              <div className="tool-row">
                <Form.Select
                  aria-label="Source"
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
                  Add frame like this source
                </Button>
              </div>
              <p className="quiet small mb-0">
                Its upright picture in square pixels, with its rate, scan and range.
              </p>
            </div>
            <div className="sheet-head rule">
              <h2>From a ratio</h2>
            </div>
            <div className="tools">
              <Link className="btn btn-sm" to={`/projects/${project.id}/deliveries?frame=new&by=ratio`}>
                New frame by ratio
              </Link>
            </div>
          </For>
          <div className="sheet-head rule">
            <h2>House active pictures</h2>
          </div>
          <ActivePictures library={library} onChange={refresh} />
          <div className="sheet-head rule">
            <h2>Typing profiles</h2>
          </div>
          <Profiles library={library} onChange={refresh} />
          <div className="sheet-head rule">
            <h2>Library file</h2>
          </div>
          <div className="tools">
            <div className="tool-row">
              <a className="btn btn-sm" href="/api/v1/library/export" download="ratiomet-library.json">
                Export library
              </a>
              <For may="house">
                <Form.Control
                  type="file"
                  size="sm"
                  accept=".json,application/json"
                  aria-label="Import a library file"
                  onChange={takeIn}
                />
                <Button
                  size="sm"
                  disabled={!library?.history.undo}
                  {...tip(library?.history.undo?.label)}
                  onClick={undo}
                >
                  Undo library change
                </Button>
              </For>
            </div>
            <p className="quiet small mb-0">
              House frames, active pictures and typing profiles as JSON. Importing adds what is missing and
              changes nothing else.
            </p>
          </div>
        </section>
      </div>
    </main>
  );
}
