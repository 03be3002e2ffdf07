import { useQuery } from "@tanstack/react-query";
import { type ChangeEvent, useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { ListReading } from "../../api/client";
import { mediaQuery } from "../../api/queries";
import { count } from "../../drawing/numbers";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { dropped, takeDropped } from "../../shell/droppedFiles";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { type Clip, listIn, type Report, readFiles, readFolder, withNew } from "./files";
import { Mending } from "./Mending";

interface Progress {
  done: number;
  all: number;
}

/** Footage is pointed at, and its headers say the rest. */
export default function FilesScreen() {
  const { project } = useBoard();
  const { tell, tellFailure } = useNotices();
  const [reading, setReading] = useState<ListReading>();
  const [progress, setProgress] = useState<Progress>();
  const stop = useRef<AbortController>(undefined);
  useEffect(() => () => stop.current?.abort(), []);

  const begin = async (
    work: (signal: AbortSignal, report: Report) => Promise<string | undefined>,
    all: number,
  ) => {
    stop.current?.abort();
    const control = new AbortController();
    stop.current = control;
    setProgress({ done: 0, all });
    try {
      const failure = await work(control.signal, (reading, done, all) => {
        if (control.signal.aborted) return;
        // What was mended meanwhile stays as it is.
        setReading((now) => withNew(now, reading));
        setProgress({ done, all });
      });
      if (failure && !control.signal.aborted)
        tell(
          all === 1
            ? `The file could not be read: ${failure}`
            : `None of these files could be read: ${failure}`,
        );
    } catch (error) {
      if (!control.signal.aborted) tellFailure("The files could not be read", error);
    }
    if (stop.current === control) setProgress(undefined);
  };
  const halt = () => {
    stop.current?.abort();
    setProgress(undefined);
  };
  const take = async (files: readonly File[]) => {
    const [file] = files;
    if (!file) {
      tell("There are no files in it.");
      return;
    }
    // A list, a timeline or a framing list by itself is read as what it is.
    const list = files.length === 1 ? await listIn(file) : undefined;
    if (list) setReading(list);
    else await begin((signal, report) => readFiles(files, signal, report), files.length);
  };
  // What was dropped on the projects page to begin with.
  const first = useRef(take);
  useEffect(() => {
    const files = takeDropped();
    if (files.length > 0) void first.current(files);
  }, []);
  const takeClips = (clips: readonly Clip[]) =>
    begin((signal, report) => readFolder(clips, signal, report), clips.length);
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Read files"
        up={{ to: `/projects/${project.id}/footage`, name: "Footage" }}
        note="size, pixel aspect, rotation and rate from the headers; nothing else is read"
      >
        {progress && (
          <div className="reading-progress" role="status">
            <progress value={progress.done} max={progress.all} aria-label="Files read" />
            <span className="num">
              {progress.done} of {progress.all}
            </span>
            <Button size="sm" onClick={halt}>
              Stop
            </Button>
          </div>
        )}
      </ScreenHead>
      {reading ? (
        <Mending
          reading={reading}
          onReading={(next) => {
            if (!next) halt();
            setReading(next);
          }}
          again="Other files"
          coming={!!progress}
        />
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
function Here({ onFiles }: { onFiles: (files: readonly File[]) => unknown }) {
  const [over, setOver] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const choose = (event: ChangeEvent<HTMLInputElement>) => onFiles([...(event.target.files ?? [])]);
  return (
    <section
      className="sheet drop-files"
      aria-label="Files on this computer"
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
        <h2>Files on this computer</h2>
      </div>
      <div className="drop-room">
        <p>
          <b>Drop files or folders here</b>
        </p>
        <p className="quiet">
          MP4, MOV, Matroska, WebM, MXF, MPEG streams, AVI, DV, YUV4MPEG2, PNG, JPEG, WebP, TIFF, DNG, HEIC,
          AVIF, OpenEXR, DPX, or a report of ffprobe or MediaInfo. Numbered stills become one source; only
          headers are sent, however long a file is. A list, a timeline or a framing list by itself is read as
          such.
        </p>
        <div className="choosers">
          <Button variant="ink" onClick={() => files.current?.click()}>
            Choose files
          </Button>
          <Button onClick={() => folder.current?.click()}>Choose folder</Button>
          <input ref={files} type="file" multiple hidden aria-label="Choose files" onChange={choose} />
          <input
            ref={(input) => {
              folder.current = input;
              input?.setAttribute("webkitdirectory", "");
            }}
            type="file"
            hidden
            aria-label="Choose folder"
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
    <section className="sheet" aria-label="Media folder">
      <div className="sheet-head">
        <h2>Media folder</h2>
        {!none && (
          <nav className="media-where num" aria-label="Folder">
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
          This server has no media folder. Start it with <code>ratiomet serve --media DIR</code> to list the
          files in DIR here.
        </p>
      ) : (
        error && (
          <Notice slim>
            {failureText(error)}{" "}
            {folder !== "" && <Button onClick={() => open("")}>Back to the media folder</Button>}
          </Notice>
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
          <li className="quiet">This folder is empty.</li>
        )}
        {data && data.left_out > 0 && <li className="quiet">and {data.left_out} more, not listed</li>}
      </ul>
    </section>
  );
}
