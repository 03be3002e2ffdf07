import { type ChangeEvent, useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { ListReading, ListRow, Role } from "../../api/client";
import { fileText } from "../../fields/fileText";
import { keep, kept, thisWindow } from "../../kept";
import { failureText, useNotices } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { Mending } from "./Mending";
import { LONGEST, readCells, readText } from "./reading";

interface Aside {
  columns: (Role | null)[];
  rows: ListRow[];
  headings: string[];
}

function isAside(value: unknown): value is Aside {
  const aside = value as Partial<Aside> | null;
  return [aside?.columns, aside?.rows, aside?.headings].every(Array.isArray);
}

/** Rows out of a spreadsheet become sources: looked at and mended before they do. */
export default function PasteScreen() {
  const { project } = useBoard();
  const place = `paste-${project.id}`;
  const [reading, setReading] = useState<ListReading>();
  const [busy, setBusy] = useState(false);
  const { tell } = useNotices();

  // What is kept aside is still there after a reload.
  useEffect(() => {
    const aside = kept<Aside | undefined>(thisWindow, place, undefined, isAside);
    if (!aside) return;
    const { columns, rows, headings } = aside;
    readCells(columns, rows).then(
      (read) =>
        setReading({
          ...read,
          columns: read.columns.map((column, at) => ({ ...column, heading: headings[at] ?? "" })),
        }),
      () => sessionStorage.removeItem(place),
    );
  }, [place]);
  const take = (next: ListReading | undefined) => {
    setReading(next);
    // A list too long for the browser's store stays on the screen alone.
    if (!next || next.rows.length === 0) sessionStorage.removeItem(place);
    else
      keep(thisWindow, place, {
        columns: next.columns.map(({ role }) => role ?? null),
        headings: next.columns.map(({ heading }) => heading),
        rows: next.rows.map(({ line, cells }) => ({ line, cells })),
      });
  };
  const read = async (text: string) => {
    if (text.trim() === "") return;
    if (text.length > LONGEST) {
      tell(
        `This list has ${Math.round(text.length / 1e6)} million characters; the limit is 30 million. Paste it in parts.`,
      );
      return;
    }
    setBusy(true);
    try {
      take(await readText(text));
    } catch (error) {
      tell(`The list could not be read: ${failureText(error)}`);
    }
    setBusy(false);
  };
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Paste list"
        up={{ to: `/projects/${project.id}/footage`, name: "Footage" }}
        note="spreadsheet rows, CSV, TSV, OpenTimelineIO or ASC Framing Decision List"
      />
      {reading ? (
        <Mending reading={reading} onReading={take} again="Another list" />
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
      aria-label="List"
      onDragOver={(event) => event.preventDefault()}
      onDrop={async (event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) onText(await fileText(file));
      }}
    >
      <div className="sheet-head">
        <h2>List</h2>
        <small>paste it here, drop a file or open one; columns in any order</small>
      </div>
      <Form.Control
        as="textarea"
        autoFocus
        aria-label="Rows"
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
          {busy ? "Reading …" : "Read list"}
        </Button>
        <Form.Control
          type="file"
          aria-label="Open a file"
          accept=".csv,.tsv,.tab,.txt,.otio,.fdl,.json,text/*"
          className="w-auto mw-100"
          onChange={open}
        />
        <span className="quiet small">
          Sizes such as 3840x2160, 3840×2160 or 3840 2160; squeeze such as 1.8, 1.8x or 9:5; 23.976 and 29.97
          are read as the exact NTSC rates.
        </span>
      </div>
    </section>
  );
}
