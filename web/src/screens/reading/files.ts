import { api, type ListReading, settled } from "../../api/client";
import { fileText } from "../../fields/fileText";
import { failureText } from "../../notices/notices";
import { inFile, LONGEST, readText } from "./reading";

/** A file or a still of a sequence that is to be read: here in the browser, or in the media folder. */
export interface Clip {
  name: string;
  first: string;
  count: number;
}

/** The least that is sent of a file at once. */
const SLICE = 64 * 1024;
const MOST_SLICES = 40;
/** How many files are read at the same time. */
const AT_ONCE = 4;
/** How many files of the media folder one request reads. */
const BATCH = 25;

/** What is in a clip's header: only slices of the file travel. */
async function bySlices(file: File, name: string, line: number, signal: AbortSignal) {
  const slices: [number, Blob][] = [[0, file.slice(0, SLICE)]];
  for (let more = 0; more < MOST_SLICES; more++) {
    const { needs, reading } = await settled(
      api.POST("/api/v1/probe", {
        params: {
          query: {
            name,
            length: file.size,
            line,
            slices: slices.map(([at, { size }]) => `${at}:${size}`).join(","),
          },
        },
        // The slices as they are, one after the other.
        body: new Blob(slices.map(([, part]) => part)) as never,
        bodySerializer: (body) => body as unknown as Blob,
        headers: { "Content-Type": "application/octet-stream" },
        signal,
      }),
    );
    if (reading) return reading;
    const [at = 0, length = 0] = needs ?? [];
    slices.push([at, file.slice(at, at + Math.max(length, SLICE))]);
  }
  throw new Error(`The header of ${name} is spread over too many places.`);
}

/** Stills of one name and many numbers are one clip. */
async function clipsOf(names: string[]): Promise<Clip[]> {
  const { clips } = await settled(api.POST("/api/v1/probe/clips", { body: { files: names } }));
  return clips;
}

/** Letters that no list has: what holds them is no text. */
const isControl = (letter: string) => letter < " " && !"\t\n\r\f".includes(letter);

/** What a file holds as a list, a timeline or a framing list; nothing for any other file. */
export async function listIn(file: File): Promise<ListReading | undefined> {
  if (file.size === 0 || file.size > LONGEST) return undefined;
  const head = await fileText(file.slice(0, SLICE));
  if ([...head].some(isControl)) return undefined;
  try {
    const reading = inFile(await readText(await fileText(file)), file.name);
    return reading.good + reading.doubtful + reading.frames.length > 0 ? reading : undefined;
  } catch {
    // What is no list is said of it as footage.
    return undefined;
  }
}

/** A row for a file that could not even be sent. */
function failed(clip: Clip, line: number, columns: number, why: string): ListReading["rows"][number] {
  return {
    line,
    cells: [clip.name, ...Array(columns - 1).fill("")],
    state: "bad",
    values: null,
    remarks: [{ column: null, state: "bad", text: why }],
  };
}

export type Report = (reading: ListReading, done: number, all: number) => void;

function joined(rows: ListReading["rows"], like: ListReading): ListReading {
  const of = (state: ListReading["rows"][number]["state"]) =>
    rows.filter((row) => row.state === state).length;
  return { ...like, rows, good: of("good"), doubtful: of("doubtful"), bad: of("bad") };
}

/**
 * Reads files of this browser, a few at a time; what has come so far is reported again and again.
 * Gives why nothing could be read.
 */
export async function readFiles(
  files: readonly File[],
  signal: AbortSignal,
  report: Report,
): Promise<string | undefined> {
  const path = (file: File) => file.webkitRelativePath || file.name;
  const byName = new Map(files.map((file) => [path(file), file]));
  const clips = await clipsOf([...byName.keys()]);
  const rows: ListReading["rows"][number][] = [];
  let like: ListReading | undefined;
  let next = 0;
  let done = 0;
  let told = 0;
  const tell = (last = false) => {
    // A table that is drawn again for every file would take longer than the reading.
    if (!like || (!last && performance.now() - told < 150)) return;
    told = performance.now();
    report(joined(rows.filter(Boolean), like), done, clips.length);
  };
  const work = async () => {
    while (next < clips.length && !signal.aborted) {
      const at = next++;
      const clip = clips[at];
      const file = clip && byName.get(clip.first);
      if (!clip || !file) continue;
      try {
        const reading = await bySlices(file, clip.name, at + 1, signal);
        like ??= reading;
        const [row] = reading.rows;
        if (row?.state === "bad" && (await listIn(file)))
          rows[at] = failed(clip, at + 1, reading.columns.length, "This is a list. Drop it on its own.");
        else if (row) rows[at] = row;
      } catch (error) {
        if (signal.aborted) return;
        rows[at] = failed(clip, at + 1, like?.columns.length ?? 10, failureText(error));
      }
      done++;
      tell();
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  tell(true);
  return like ? undefined : rows[0]?.remarks[0]?.text;
}

/** A reading with the rows of a newer one that it does not have yet; those that it has stay as they are. */
export function withNew(now: ListReading | undefined, newer: ListReading): ListReading {
  if (!now) return newer;
  const known = new Set(now.rows.map(({ line }) => line));
  return joined([...now.rows, ...newer.rows.filter(({ line }) => !known.has(line))], now);
}

/** Reads clips of the media folder, a batch at a time. Gives why nothing could be read. */
export async function readFolder(
  clips: readonly Clip[],
  signal: AbortSignal,
  report: Report,
): Promise<string | undefined> {
  const rows: ListReading["rows"] = [];
  for (let at = 0; at < clips.length && !signal.aborted; at += BATCH) {
    const batch = clips.slice(at, at + BATCH);
    const reading = await settled(
      api.POST("/api/v1/media/probe", {
        body: { clips: batch.map(({ first, name }) => ({ first, name })) },
        signal,
      }),
    );
    rows.push(...reading.rows.map((row, place) => ({ ...row, line: at + place + 1 })));
    report(joined([...rows], reading), rows.length, clips.length);
  }
  return undefined;
}
