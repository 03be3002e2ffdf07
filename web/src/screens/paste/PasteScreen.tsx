import { useVirtualizer } from "@tanstack/react-virtual";
import { type ChangeEvent, useEffect, useMemo, useRef, useState } from "react";
import { Button, ButtonGroup, Form, Table } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import type { ListReading, ListRow, Role, SourceValues } from "../../api/client";
import { useEdit } from "../../api/useEdit";
import { SeverityMark } from "../../drawing/marks";
import { count, raster, rate } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";
import { copyText } from "../../fields/Figure";
import { failureText, useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { asText, fileText, LONGEST, ROLES, readCells, readText } from "./reading";

const ROW = 52;
const SEVERITY = { good: null, doubtful: "caution", bad: "stop" } as const;
const WORDS = { good: "understood", doubtful: "doubtful", bad: "not understood" } as const;

type Shown = "all" | keyof typeof WORDS;

/** Rows out of a spreadsheet become sources: looked at and mended before they do. */
export function PasteScreen() {
  const { project } = useBoard();
  const place = `paste-${project.id}`;
  const [reading, setReading] = useState<ListReading>();
  const [busy, setBusy] = useState(false);
  const { tell } = useNotices();

  // What is kept aside is still there after a reload.
  useEffect(() => {
    const kept = sessionStorage.getItem(place);
    if (!kept) return;
    const { columns, rows, headings } = JSON.parse(kept) as {
      columns: Role[];
      rows: ListRow[];
      headings: string[];
    };
    readCells(columns, rows).then(
      (read) =>
        setReading({
          ...read,
          columns: read.columns.map((column, at) => ({ ...column, heading: headings[at] ?? "" })),
        }),
      () => sessionStorage.removeItem(place),
    );
  }, [place]);
  const keep = (next: ListReading | undefined) => {
    setReading(next);
    try {
      if (!next || next.rows.length === 0) sessionStorage.removeItem(place);
      else
        sessionStorage.setItem(
          place,
          JSON.stringify({
            columns: next.columns.map(({ role }) => role ?? null),
            headings: next.columns.map(({ heading }) => heading),
            rows: next.rows.map(({ line, cells }) => ({ line, cells })),
          }),
        );
    } catch {
      // A list too long for the browser's store stays on the screen alone.
    }
  };
  const read = async (text: string) => {
    if (text.trim() === "") return;
    if (text.length > LONGEST) {
      tell(
        `This list has ${Math.round(text.length / 1e6)} million characters; at most 30 million are read at once. Paste it in parts.`,
      );
      return;
    }
    setBusy(true);
    try {
      keep(await readText(text));
    } catch (error) {
      tell(`The list was not read: ${failureText(error)}`);
    }
    setBusy(false);
  };
  return (
    <main className="page">
      <div className="page-head">
        <span>
          <Link to={`/projects/${project.id}/footage`}>Footage</Link> <span className="quiet">›</span>
        </span>
        <h1>Paste a list</h1>
        <span className="quiet">rows from a spreadsheet, or a CSV or TSV file</span>
      </div>
      {reading ? <Preview reading={reading} onReading={keep} /> : <Entry busy={busy} onText={read} />}
    </main>
  );
}

function Entry({ busy, onText }: { busy: boolean; onText: (text: string) => void }) {
  const [text, setText] = useState("");
  const open = async (event: ChangeEvent<HTMLInputElement>) => {
    const [file] = event.target.files ?? [];
    if (file) onText(await fileText(file));
  };
  return (
    <section
      className="sheet paste-entry"
      aria-label="The list"
      onDragOver={(event) => event.preventDefault()}
      onDrop={async (event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) onText(await fileText(file));
      }}
    >
      <div className="sheet-head">
        <h2>The list</h2>
        <small>paste it here, drop a file, or open one; columns in any order, found by their headings</small>
      </div>
      <Form.Control
        as="textarea"
        autoFocus
        aria-label="The rows"
        className="num"
        spellCheck={false}
        placeholder={
          "Clip\tResolution\tSqueeze\tfps\nA015 Kiln door\t2880x2160\t2x\t23.976\nD022 Reed beds\t5120 × 2700\t\t25"
        }
        value={text}
        onChange={(event) => setText(event.target.value)}
        onPaste={(event) => {
          const pasted = event.clipboardData.getData("text/plain");
          if (text.trim() === "" && pasted.includes("\n")) {
            event.preventDefault();
            onText(pasted);
          }
        }}
      />
      <div className="d-flex flex-wrap gap-2 p-3 align-items-center">
        <Button variant="ink" disabled={busy || text.trim() === ""} onClick={() => onText(text)}>
          {busy ? "Reading …" : "Read the list"}
        </Button>
        <Form.Control
          type="file"
          aria-label="Open a file"
          accept=".csv,.tsv,.tab,.txt,text/*"
          className="w-auto"
          onChange={open}
        />
        <span className="quiet small">
          Sizes as 3840x2160, 3840×2160 or 3840 2160; squeeze as 1.8, 1.8x or 9:5; 23.976 and 29.97 mean the
          exact NTSC rates.
        </span>
      </div>
    </section>
  );
}

interface PreviewProps {
  reading: ListReading;
  onReading: (reading: ListReading | undefined) => void;
}

function recount(reading: ListReading, rows: ListRow[]): ListReading {
  const of = (state: ListRow["state"]) => rows.filter((row) => row.state === state).length;
  return { ...reading, rows, good: of("good"), doubtful: of("doubtful"), bad: of("bad") };
}

function Preview({ reading, onReading }: PreviewProps) {
  const { project, sources } = useBoard();
  const edit = useEdit(project.id);
  const navigate = useNavigate();
  const { tell } = useNotices();
  const [show, setShow] = useState<Shown>("all");
  const [withDoubt, setWithDoubt] = useState(true);
  const [open, setOpen] = useState<number>();
  const known = useMemo(() => new Set(sources.map(({ values }) => values.name)), [sources]);
  const { columns, rows } = reading;
  const roles = columns.map(({ role }) => role ?? null);
  const shown = useMemo(
    () => (show === "all" ? rows : rows.filter(({ state }) => state === show)),
    [rows, show],
  );
  const taken = rows.filter(({ state, values }) => values && (state === "good" || withDoubt));
  const latest = useRef(reading);
  latest.current = reading;

  const setRole = async (at: number, role: Role | null) => {
    const next = roles.map((each, index) => (index === at ? role : each === role ? null : each));
    try {
      const read = await readCells(next, rows);
      onReading({
        ...reading,
        ...read,
        columns: columns.map((column, index) => ({ ...column, role: next[index] })),
      });
    } catch (error) {
      tell(`Not read again: ${failureText(error)}`);
    }
  };
  const mend = async (row: ListRow, at: number, text: string) => {
    if (row.cells[at] === text) return;
    const cells = row.cells.map((cell, index) => (index === at ? text : cell));
    try {
      const [mended] = (await readCells(roles, [{ line: row.line, cells }])).rows;
      if (!mended) return;
      const now = latest.current;
      onReading(
        recount(
          now,
          now.rows.map((each) => (each.line === row.line ? mended : each)),
        ),
      );
    } catch (error) {
      tell(`Not read again: ${failureText(error)}`);
    }
  };
  const add = async () => {
    const { done } = await edit({
      edit: "add_sources",
      values: taken.map(({ values }) => values as SourceValues),
    });
    if (!done) return;
    const left = rows.filter((row) => !taken.includes(row));
    onReading(left.length > 0 ? recount(reading, left) : undefined);
    if (left.length === 0)
      navigate(`/projects/${project.id}/footage?source=${done.sources[0]}`, {
        state: { picked: done.sources },
      });
    else setShow("all");
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
      tell("The rows that stay aside are copied.");
  };
  const remarks = rows.find(({ line }) => line === open)?.remarks ?? [];
  return (
    <>
      <div className="page-head">
        <ButtonGroup aria-label="Which rows">
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
          label="with the doubtful ones"
          checked={withDoubt}
          disabled={reading.doubtful === 0}
          onChange={(event) => setWithDoubt(event.target.checked)}
        />
        <div className="end">
          <Button disabled={taken.length === rows.length} onClick={copy}>
            Copy what stays aside
          </Button>
          <Button onClick={() => onReading(undefined)}>Another list</Button>
          <Button variant="ink" disabled={taken.length === 0} onClick={add}>
            Add {count(taken.length, "source")}
          </Button>
        </div>
      </div>
      {reading.remarks.map((remark) => (
        <div key={remark} className="notice">
          {remark}
        </div>
      ))}
      <section className="sheet flex-grow-1" aria-label="What was understood">
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
              {count(rows.length - taken.length, "row")} would stay aside on this screen. Type over a cell to
              mend it; Enter reads its row again.
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
  open?: number;
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
            <th>understood as</th>
            {columns.map((column, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: columns have nothing else that tells them apart
              <th key={at}>
                <span className="d-block aside">{column.heading || `column ${at + 1}`}</span>
                <Form.Select
                  size="sm"
                  aria-label={`What ${column.heading || `column ${at + 1}`} holds`}
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
                      <td key={at} data-state={remark?.state} title={remark?.text}>
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
    geometry.rotation !== 0 && `turn ${geometry.rotation}°`,
    values.rate && `at ${rate(values.rate)}`,
    values.scan === "interlaced" && "interlaced",
    values.signal_range === "full" && "full range",
  ].filter(Boolean);
  const exact = remarks.find(({ state, text }) => state === "good" && text.includes("exactly"));
  return (
    <span>
      <span className="num">{traits.join(" · ")}</span>
      <span className="quiet d-block small aside">
        {known.has(values.name) ? "a source of this name is in the bin already; " : ""}
        {first?.text ?? exact?.text ?? ""}
      </span>
    </span>
  );
}
