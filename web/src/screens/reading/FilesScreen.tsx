import { useQuery } from "@tanstack/react-query";
import { type ChangeEvent, useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { ListReading } from "../../api/client";
import { mediaQuery } from "../../api/queries";
import { count } from "../../drawing/numbers";
import { failureText, useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { type Clip, dropped, readFiles, readFolder } from "./files";
import { Mending } from "./Mending";

interface Progress {
  done: number;
  all: number;
}

/** Footage is pointed at, and its headers say the rest. */
export function FilesScreen() {
  const { project } = useBoard();
  const { tell } = useNotices();
  const [reading, setReading] = useState<ListReading>();
  const [progress, setProgress] = useState<Progress>();
  const stop = useRef<AbortController>(undefined);
  useEffect(() => () => stop.current?.abort(), []);

  const begin = async (
    work: (signal: AbortSignal, report: (reading: ListReading, done: number, all: number) => void) => unknown,
    all: number,
  ) => {
    stop.current?.abort();
    const control = new AbortController();
    stop.current = control;
    setProgress({ done: 0, all });
    try {
      await work(control.signal, (reading, done, all) => {
        setReading(reading);
        setProgress({ done, all });
      });
    } catch (error) {
      if (!control.signal.aborted) tell(`The files were not read: ${failureText(error)}`);
    }
    if (stop.current === control) setProgress(undefined);
  };
  const take = (files: readonly File[]) => {
    if (files.length === 0) tell("There was no file in it.");
    else begin((signal, report) => readFiles(files, signal, report), files.length);
  };
  const takeClips = (clips: readonly Clip[]) =>
    begin((signal, report) => readFolder(clips, signal, report), clips.length);
  return (
    <main className="page">
      <div className="page-head">
        <span>
          <Link to={`/projects/${project.id}/footage`}>Footage</Link> <span className="quiet">›</span>
        </span>
        <h1>Read files</h1>
        <span className="quiet">
          their headers say size, pixel shape, turn and rate; nothing else is read
        </span>
        {progress && (
          <div className="end reading-progress" role="status">
            <progress value={progress.done} max={progress.all} aria-label="Files read" />
            <span className="num">
              {progress.done} of {progress.all}
            </span>
            <Button
              size="sm"
              onClick={() => {
                stop.current?.abort();
                setProgress(undefined);
              }}
            >
              Stop
            </Button>
          </div>
        )}
      </div>
      {reading ? (
        <Mending reading={reading} onReading={setReading} again="Other files" coming={!!progress} />
      ) : (
        <div className="two-sheets">
          <Here onFiles={take} />
          <There onClips={takeClips} />
        </div>
      )}
    </main>
  );
}

/** Files on the machine of the browser. */
function Here({ onFiles }: { onFiles: (files: readonly File[]) => void }) {
  const [over, setOver] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const choose = (event: ChangeEvent<HTMLInputElement>) => onFiles([...(event.target.files ?? [])]);
  return (
    <section
      className="sheet drop-files"
      aria-label="Files of this computer"
      data-over={over || undefined}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={async (event) => {
        event.preventDefault();
        setOver(false);
        onFiles(await dropped(event.dataTransfer));
      }}
    >
      <div className="sheet-head">
        <h2>Files of this computer</h2>
      </div>
      <div className="drop-room">
        <p>
          <b>Drop files or folders here</b>
        </p>
        <p className="quiet">
          MP4, MOV, Matroska, WebM, MXF, YUV4MPEG2, PNG, JPEG, TIFF, OpenEXR, DPX, or what ffprobe writes as
          JSON. Numbered stills become one source. Only headers are sent, however long a file is.
        </p>
        <div className="choosers">
          <Button variant="ink" onClick={() => files.current?.click()}>
            Choose files
          </Button>
          <Button onClick={() => folder.current?.click()}>Choose a folder</Button>
          <input ref={files} type="file" multiple hidden aria-label="Choose files" onChange={choose} />
          <input
            ref={(input) => {
              folder.current = input;
              input?.setAttribute("webkitdirectory", "");
            }}
            type="file"
            hidden
            aria-label="Choose a folder"
            onChange={choose}
          />
        </div>
      </div>
    </section>
  );
}

/** Files in the media folder of the server. */
function There({ onClips }: { onClips: (clips: readonly Clip[]) => void }) {
  const [folder, setFolder] = useState("");
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const { data, error } = useQuery(mediaQuery(folder));
  const open = (next: string) => {
    setFolder(next);
    setLeft(new Set());
  };
  const parts = folder === "" ? [] : folder.split("/");
  const chosen = data?.clips.filter(({ first }) => !left.has(first)) ?? [];
  const toggle = (first: string) => {
    const next = new Set(left);
    if (!next.delete(first)) next.add(first);
    setLeft(next);
  };
  const none = data && !data.available;
  return (
    <section className="sheet" aria-label="The media folder">
      <div className="sheet-head">
        <h2>The media folder</h2>
        {!none && (
          <nav className="media-where num" aria-label="Where in it">
            <button type="button" onClick={() => open("")}>
              all
            </button>
            {parts.map((part, at) => (
              <span key={parts.slice(0, at + 1).join("/")}>
                {" / "}
                <button
                  type="button"
                  className="example"
                  onClick={() => open(parts.slice(0, at + 1).join("/"))}
                >
                  {part}
                </button>
              </span>
            ))}
          </nav>
        )}
        {data && data.clips.length > 0 && (
          <div className="end">
            <Button size="sm" variant="ink" disabled={chosen.length === 0} onClick={() => onClips(chosen)}>
              Read {count(chosen.length, "clip")}
            </Button>
          </div>
        )}
      </div>
      {none ? (
        <p className="quiet px-3">
          This server was started without one. With <code>ratiomet serve --media DIR</code> the files in DIR,
          and in no other place, are listed here.
        </p>
      ) : (
        error && (
          <p className="notice slim">
            {failureText(error)}{" "}
            {folder !== "" && <Button onClick={() => open("")}>Back to the start</Button>}
          </p>
        )
      )}
      <ul className="media-list scroll">
        {data?.folders.map((name) => (
          <li key={`/${name}`}>
            <button
              type="button"
              className="folder"
              onClick={() => open(folder === "" ? name : `${folder}/${name}`)}
            >
              <span aria-hidden="true">▸</span> {name}
            </button>
          </li>
        ))}
        {data?.clips.map(({ first, name, count: stills }) => (
          <li key={first}>
            <Form.Check
              id={`clip-${first}`}
              checked={!left.has(first)}
              onChange={() => toggle(first)}
              label={
                <>
                  {name.slice(folder === "" ? 0 : folder.length + 1)}
                  {stills > 1 && <small className="quiet"> {count(stills, "still")}</small>}
                </>
              }
            />
          </li>
        ))}
        {data?.available && data.folders.length + data.clips.length === 0 && (
          <li className="quiet">Nothing is in it.</li>
        )}
        {data && data.left_out > 0 && <li className="quiet">and {data.left_out} more that are not listed</li>}
      </ul>
    </section>
  );
}
