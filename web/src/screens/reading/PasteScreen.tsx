import { type ChangeEvent, useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { ListReading, ListRow, Role } from "../../api/client";
import { failureText, useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { Mending } from "./Mending";
import { fileText, LONGEST, readCells, readText } from "./reading";

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
        <span className="quiet">
          rows from a spreadsheet, CSV, TSV; OpenTimelineIO; ASC Framing Decision List
        </span>
      </div>
      {reading ? (
        <Mending reading={reading} onReading={keep} again="Another list" />
      ) : (
        <Entry busy={busy} onText={read} />
      )}
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
          accept=".csv,.tsv,.tab,.txt,.otio,.fdl,.json,text/*"
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
