import { useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef, useState } from "react";
import { Button, ButtonGroup, Form, Table } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { ListReading, ListRow, Role, SourceValues } from "../../api/client";
import { renewalsQuery } from "../../api/queries";
import { inLetters } from "../../drawing/letters";
import { SeverityMark } from "../../drawing/marks";
import { count, raster, rate } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";
import { copyText } from "../../fields/Figure";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { asText, inFile, ROLES, readCells } from "./reading";

const ROW = inLetters(52);
const SEVERITY = { good: null, doubtful: "caution", bad: "stop" } as const;
const WORDS = { good: "understood", doubtful: "doubtful", bad: "not understood" } as const;

type Shown = "all" | keyof typeof WORDS;

interface MendingProps {
  reading: ListReading;
  onReading: (reading: ListReading | undefined) => void;
  /** What the button says that begins again. */
  again: string;
  /** Whether rows are still coming. */
  coming?: boolean | undefined;
}

function recount(reading: ListReading, rows: ListRow[]): ListReading {
  const of = (state: ListRow["state"]) => rows.filter((row) => row.state === state).length;
  return { ...reading, rows, good: of("good"), doubtful: of("doubtful"), bad: of("bad") };
}

/** What a row becomes, with where it was read. */
const valuesOf = ({ values, origin }: ListRow) => ({ ...(values as SourceValues), origin: origin ?? null });

/** Rows that may become sources: looked at and mended before they do. */
export function Mending({ reading, onReading, again, coming }: MendingProps) {
  const { project, sources } = useBoard();
  const edit = useEdit(project.id);
  const navigate = useNavigate();
  const { tell } = useNotices();
  const [show, setShow] = useState<Shown>("all");
  const [withDoubt, setWithDoubt] = useState(true);
  const [withKnown, setWithKnown] = useState(false);
  const [updating, setUpdating] = useState(false);
  const [open, setOpen] = useState<number>();
  const known = useMemo(() => new Set(sources.map(({ values }) => values.name)), [sources]);
  const { columns, rows } = reading;
  const roles = columns.map(({ role }) => role ?? null);
  const shown = useMemo(
    () => (show === "all" ? rows : rows.filter(({ state }) => state === show)),
    [rows, show],
  );
  const isThere = ({ values }: ListRow) => values != null && known.has(values.name);
  const there = rows.filter(isThere);
  // With framings the sources that exist are found by their names, and not added again.
  const once = reading.framings.length === 0 && !withKnown;
  const taken = rows.filter(
    (row) => row.values && (row.state === "good" || withDoubt) && !(once && isThere(row)),
  );
  const latest = useRef(reading);
  latest.current = reading;

  const setRole = async (at: number, role: Role | null) => {
    const next = roles.map((each, index) => (index === at ? role : each === role ? null : each));
    try {
      const read = await readCells(next, rows);
      const file = rows.find(({ origin }) => origin)?.origin?.file;
      onReading({
        ...reading,
        ...(file === undefined ? read : inFile(read, file)),
        frames: reading.frames,
        framings: reading.framings,
        columns: columns.map((column, index) => ({ ...column, role: next[index] ?? null })),
      });
    } catch (error) {
      tell(`The row could not be read: ${failureText(error)}`);
    }
  };
  const mend = async (row: ListRow, at: number, text: string) => {
    if (row.cells[at] === text) return;
    const cells = row.cells.map((cell, index) => (index === at ? text : cell));
    try {
      const [mended] = (await readCells(roles, [{ line: row.line, cells }])).rows;
      if (!mended) return;
      // Where a value stands is still true of the cells that were not typed over.
      const stays = row.remarks.filter(
        ({ column, state, text }) => column !== at && (state === "good" || column == null) && text !== "",
      );
      // What the file said stays known beside what was typed over it.
      mended.origin = row.origin ?? mended.origin ?? null;
      mended.remarks.push(...stays.filter(({ text }) => !mended.remarks.some((each) => each.text === text)));
      const now = latest.current;
      onReading(
        recount(
          now,
          now.rows.map((each) => (each.line === row.line ? mended : each)),
        ),
      );
    } catch (error) {
      tell(`The row could not be read: ${failureText(error)}`);
    }
  };
  // Framings of a list come with its sources and frames, as one step.
  const framings = reading.framings.flatMap((framing) => {
    const source = taken.findIndex(({ line }) => line === framing.source + 1);
    return source < 0 ? [] : [{ ...framing, source }];
  });
  // Which clips are in the project already and are stored otherwise now: a folder that is read again.
  const thereNow = there.map(valuesOf);
  const { data: renewals } = useQuery({ ...renewalsQuery(project.id, thereNow), enabled: there.length > 0 });
  const changed = renewals?.filter(({ changes }) => changes) ?? [];
  const withFramings = framings.length > 0;
  const fresh = withFramings ? taken.filter((row) => !isThere(row)).length : taken.length;
  // What is neither added nor settled.
  const stay = rows.filter((row) => !taken.includes(row) && (changed.length > 0 || !isThere(row)));
  const add = async () => {
    const values = taken.map(valuesOf);
    const { done } = await edit(
      withFramings
        ? { edit: "import", sources: values, frames: reading.frames, framings, update: updating }
        : { edit: "add_sources", values },
    );
    if (!done) return;
    onReading(stay.length > 0 ? recount(reading, stay) : undefined);
    if (withFramings) {
      void navigate(`/projects/${project.id}/board`);
      return;
    }
    if (stay.length === 0)
      void navigate(`/projects/${project.id}/footage?source=${done.sources[0]}`, {
        state: { picked: done.sources },
      });
    else setShow("all");
  };
  const update = async () => {
    const { done } = await edit({
      edit: "import",
      sources: thereNow,
      frames: [],
      framings: [],
      update: true,
    });
    if (!done) return;
    const left = rows.filter((row) => !isThere(row));
    onReading(left.length > 0 ? recount(reading, left) : undefined);
  };
  const addFrames = async () => {
    const { done } = await edit({ edit: "add_frames", values: reading.frames });
    if (done) onReading({ ...reading, frames: [] });
  };
  const copy = async () => {
    if (
      await copyText(
        asText(
          columns,
          rows.filter((row) => !taken.includes(row)),
        ),
      )
    )
      tell("Unused rows copied.");
  };
  const remarks = rows.find(({ line }) => line === open)?.remarks ?? [];
  return (
    <>
      <div className="page-head">
        <ButtonGroup aria-label="Rows shown">
          {(["all", "good", "doubtful", "bad"] as const).map((each) => (
            <Button
              key={each}
              active={show === each}
              aria-pressed={show === each}
              onClick={() => setShow(each)}
            >
              {each !== "all" && <SeverityMark severity={SEVERITY[each]} />}
              {each === "all" ? `All ${rows.length}` : `${reading[each]} ${WORDS[each]}`}
            </Button>
          ))}
        </ButtonGroup>
        <Form.Check
          id="with-doubt"
          label="include doubtful rows"
          checked={withDoubt}
          disabled={reading.doubtful === 0}
          onChange={(event) => setWithDoubt(event.target.checked)}
        />
        {there.length > 0 && reading.framings.length === 0 && (
          <Form.Check
            id="with-known"
            label={`include existing names (${there.length})`}
            checked={withKnown}
            onChange={(event) => setWithKnown(event.target.checked)}
          />
        )}
        <div className="end">
          <Button disabled={taken.length === rows.length} onClick={copy}>
            Copy unused rows
          </Button>
          <Button onClick={() => onReading(undefined)}>{again}</Button>
          <For may="plan">
            <Button variant="ink" disabled={taken.length === 0 || coming} onClick={add}>
              Add{" "}
              {[
                (fresh > 0 || !withFramings) && count(fresh, "source"),
                withFramings && count(framings.length, "framing"),
              ]
                .filter(Boolean)
                .join(" and ")}
            </Button>
          </For>
        </div>
      </div>
      {reading.frames.length > 0 && (
        <Notice>
          The list also has {count(reading.frames.length, "frame")}:{" "}
          {reading.frames.map(({ name }) => name).join(", ")}.{" "}
          {withFramings ? (
            `With the sources come ${count(framings.length, "framing")}, kept beside what you change later.`
          ) : (
            <For may="plan">
              <Button size="sm" onClick={addFrames}>
                Add {reading.frames.length === 1 ? "it" : "them"} to Deliveries
              </Button>
            </For>
          )}
        </Notice>
      )}
      {renewals && renewals.length > 0 && (
        <Notice className="list-remarks">
          {count(renewals.length, "clip")} of the project {renewals.length === 1 ? "is" : "are"} stored
          otherwise now.{" "}
          <For may="plan">
            {withFramings ? (
              <span className="choice">
                <Form.Check
                  inline
                  id="with-sizes"
                  label={`update ${changed.length === 1 ? "it" : "them"} too`}
                  checked={updating}
                  disabled={changed.length === 0}
                  onChange={(event) => setUpdating(event.target.checked)}
                />
                <span className="quiet">otherwise framings for another size are left out</span>
              </span>
            ) : (
              <Button size="sm" disabled={changed.length === 0} onClick={update}>
                Update {count(changed.length, "source")}
              </Button>
            )}
          </For>
          <ul>
            {renewals.slice(0, 8).map(({ source, place, words }) => (
              <li key={source}>
                <b>{thereNow[place]?.name}</b>: <span className="num">{words}</span>
              </li>
            ))}
            {renewals.length > 8 && <li>and {renewals.length - 8} more</li>}
          </ul>
        </Notice>
      )}
      {reading.remarks.length > 0 && (
        <Notice className="list-remarks">
          <ul>
            {reading.remarks.map((remark) => (
              <li key={remark}>{remark}</li>
            ))}
          </ul>
        </Notice>
      )}
      <section className="sheet flex-grow-1" aria-label="Rows">
        <Rows
          reading={reading}
          shown={shown}
          known={known}
          open={open}
          onOpen={setOpen}
          onRole={setRole}
          onMend={mend}
        />
        <div className="list-foot" role="status">
          {open !== undefined && remarks.length > 0 ? (
            <ul className="remarks">
              {remarks.map((remark) => (
                <li key={`${remark.column} ${remark.text}`}>
                  <SeverityMark severity={remark.state === "good" ? "note" : SEVERITY[remark.state]} />
                  <span>
                    {remark.column != null && (
                      <b>{columns[remark.column]?.heading || columns[remark.column]?.role}: </b>
                    )}
                    {remark.text}
                  </span>
                </li>
              ))}
            </ul>
          ) : (
            <span>
              {count(stay.length, "unused row")} will stay on this screen. To fix a cell, type over it and
              press Enter.
            </span>
          )}
        </div>
      </section>
    </>
  );
}

interface RowsProps {
  reading: ListReading;
  shown: ListRow[];
  known: ReadonlySet<string>;
  open?: number | undefined;
  onOpen: (line: number) => void;
  onRole: (at: number, role: Role | null) => void;
  onMend: (row: ListRow, at: number, text: string) => void;
}

function Rows({ reading: { columns }, shown, known, open, onOpen, onRole, onMend }: RowsProps) {
  const [scroller] = useRoom<HTMLDivElement>({ width: 1200, height: 500 });
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 4,
    useFlushSync: false,
  });
  const items = virtual.getVirtualItems();
  const before = items[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  const width = columns.length + 3;
  return (
    <div className="scroll" ref={scroller}>
      <Table className="register paste-rows">
        <thead>
          <tr>
            <th className="ps-3">line</th>
            <th>read as</th>
            {columns.map((column, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: columns have nothing else that tells them apart
              <th key={at}>
                <span className="d-block aside">{column.heading || `column ${at + 1}`}</span>
                <Form.Select
                  size="sm"
                  aria-label={`Content of ${column.heading || `column ${at + 1}`}`}
                  value={column.role ?? ""}
                  onChange={(event) => onRole(at, (event.target.value || null) as Role | null)}
                >
                  <option value="">not used</option>
                  {ROLES.map(([role, name]) => (
                    <option key={role} value={role}>
                      {name}
                    </option>
                  ))}
                </Form.Select>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {before > 0 && (
            <tr className="gap">
              <td colSpan={width} style={{ height: before }} />
            </tr>
          )}
          {items.map(({ index }) => {
            const row = shown[index];
            return (
              row && (
                <tr
                  key={row.line}
                  style={{ height: ROW }}
                  data-line={row.line}
                  data-state={row.state}
                  aria-selected={row.line === open}
                  onFocus={() => onOpen(row.line)}
                >
                  <td className="num ps-3">{row.line}</td>
                  <td className="understood">
                    <SeverityMark severity={SEVERITY[row.state]} /> <Understood row={row} known={known} />
                  </td>
                  {row.cells.map((cell, at) => {
                    const remark = row.remarks.find(({ column, state }) => column === at && state !== "good");
                    return (
                      // biome-ignore lint/suspicious/noArrayIndexKey: cells stand in the order of their columns
                      <td key={at} data-state={remark?.state} {...tip(remark?.text)}>
                        <input
                          key={cell}
                          aria-label={`${columns[at]?.heading || `column ${at + 1}`} in line ${row.line}`}
                          defaultValue={cell}
                          disabled={!columns[at]?.role}
                          onBlur={(event) => onMend(row, at, event.target.value.trim())}
                          onKeyDown={(event) => {
                            if (event.key === "Enter") onMend(row, at, event.currentTarget.value.trim());
                            if (event.key === "Escape") event.currentTarget.value = cell;
                          }}
                        />
                      </td>
                    );
                  })}
                </tr>
              )
            );
          })}
          {after > 0 && (
            <tr className="gap">
              <td colSpan={width} style={{ height: after }} />
            </tr>
          )}
        </tbody>
      </Table>
    </div>
  );
}

/** What a row is taken for, or the first thing that is wrong with it. */
function Understood({ row, known }: { row: ListRow; known: ReadonlySet<string> }) {
  const { values, remarks, state } = row;
  const first = remarks.find((remark) => remark.state === state && state !== "good");
  if (!values) return <span className="bad-text">{first?.text}</span>;
  const { geometry } = values;
  const traits = [
    raster(geometry.raster),
    geometry.squeeze !== "1" && `${geometry.squeeze}×`,
    geometry.pixel_aspect !== "1" && `${geometry.pixel_aspect} pixels`,
    geometry.rotation !== 0 && `rotated ${geometry.rotation}°`,
    values.rate && `${rate(values.rate)} fps`,
    values.scan === "interlaced" && "interlaced",
    values.signal_range === "full" && "full range",
    values.projection === "sphere" && "sphere",
  ].filter(Boolean);
  const exact = remarks.find(({ state, text }) => state === "good" && text.includes("exactly"));
  return (
    <span>
      <span className="num">{traits.join(" · ")}</span>
      <span className="quiet d-block small aside">
        {[known.has(values.name) && "a source of this name already exists", first?.text ?? exact?.text]
          .filter(Boolean)
          .join("; ")}
      </span>
    </span>
  );
}
