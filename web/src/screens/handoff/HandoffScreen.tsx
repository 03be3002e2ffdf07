import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { api, settled } from "../../api/client";
import { type HandoffRequest, handoffPreviewQuery, handoffQuery } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { count, raster } from "../../drawing/numbers";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { useProfiles } from "../../typing/profiles";
import { useOnce } from "../../writes/useOnce";
import { Into } from "./Into";
import { Links } from "./Links";

/** What can be written, in the order in which it is asked for, and whom it is for. */
const FORMATS = [
  ["pdf", "Plan sheets, PDF", "dimensioned drawings with the numbers to type, to print"],
  ["html", "Plan sheets, HTML", "the same for a browser, as one file"],
  ["csv", "All numbers, CSV", "one row for each conversion"],
  ["json", "All numbers, JSON", "exact fractions, for programs"],
  ["fdl", "ASC Framing Decision List", "canvases, intents, decisions and templates"],
  ["otio", "OpenTimelineIO", "one clip for each source, with its placements as metadata"],
  ["recipes", "Recipes", "a shell script and a list that carry out the plan with ffmpeg"],
  ["charts_svg", "Framing charts, SVG", "for the camera and as leaders"],
  ["charts_png", "Framing charts, PNG", "the same at full size"],
  ["signals", "Signalling, CSV", "sample aspect, clean aperture, active format, bars, levels"],
  ["outcomes", "Outcomes, PNG", "each conversion carried out on the still of its source, at full size"],
] as const;

/** Many and large: only for those who ask for them. */
const UNASKED: readonly string[] = ["outcomes"];

type Chosen = ReadonlySet<number | string>;

/** The whole of a project, or a part of it, for the next person and the next program. */
export default function HandoffScreen() {
  const { project, sources, frames } = useBoard();
  const [without, setWithout] = useState<Chosen>(new Set(UNASKED));
  const { profiles, used, choose } = useProfiles();
  const [pictures, setPictures] = useState(false);
  const [chroma, setChroma] = useState<HandoffRequest["chroma"]>("4:2:0");
  const toggle = (key: number | string) =>
    setWithout((before) => {
      const next = new Set(before);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  const every = (keys: (number | string)[], wanted: boolean) =>
    setWithout((before) => {
      const next = new Set(before);
      for (const key of keys) {
        if (wanted) next.delete(key);
        else next.add(key);
      }
      return next;
    });
  const kept = <T extends number | string>(keys: readonly T[]) => keys.filter((key) => !without.has(key));
  const request: HandoffRequest = {
    sources: kept(sources.map(({ id }) => id)),
    frames: kept(frames.map(({ id }) => id)),
    formats: kept(FORMATS.map(([format]) => format)),
    chroma,
    pictures,
    profile: used ? used.values : null,
  };
  const nothing =
    request.sources?.length === 0
      ? "source"
      : request.frames?.length === 0
        ? "frame"
        : request.formats?.length === 0
          ? "format"
          : undefined;
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Hand-off"
        window={`Hand-off of ${project.values.name}`}
        note="plan sheets, interchange files and recipes in one archive"
      />
      <div className="handoff">
        <section className="sheet" aria-label="Include">
          <div className="sheet-head">
            <h2>Include</h2>
          </div>
          <div className="scroll choices">
            <Group
              name="Sources"
              keys={sources.map(({ id }) => id)}
              without={without}
              onEvery={every}
              onToggle={toggle}
              label={(id) => {
                const source = sources.find((each) => each.id === id);
                return [source?.values.name, source && raster(source.values.geometry.raster)];
              }}
            />
            <Group
              name="Frames"
              keys={frames.map(({ id }) => id)}
              without={without}
              onEvery={every}
              onToggle={toggle}
              label={(id) => {
                const frame = frames.find((each) => each.id === id);
                return [frame?.values.name, frame && raster(frame.values.geometry.raster)];
              }}
            />
          </div>
        </section>
        <section className="sheet" aria-label="Formats">
          <div className="sheet-head">
            <h2>Formats</h2>
          </div>
          <div className="scroll choices">
            <Group
              name="Formats"
              keys={FORMATS.map(([format]) => format)}
              without={without}
              onEvery={every}
              onToggle={toggle}
              label={(id) => {
                const format = FORMATS.find(([each]) => each === id);
                return [format?.[1], format?.[2]];
              }}
            />
            <Form.Check
              id="sheet-pictures"
              label="pictures in plan sheets and charts: the stills of the sources, and what comes out of them"
              checked={pictures}
              onChange={({ target }) => setPictures(target.checked)}
            />
            <div className="chroma">
              <label htmlFor="typing-for">numbers to type, for</label>
              <Form.Select
                id="typing-for"
                size="sm"
                value={used?.id ?? 0}
                onChange={(event) => choose(Number(event.target.value))}
              >
                <option value={0}>usual</option>
                {profiles.map(({ id, values }) => (
                  <option key={id} value={id}>
                    {values.name}
                  </option>
                ))}
              </Form.Select>
            </div>
            <div className="chroma">
              <label htmlFor="chroma">chroma of the recipes</label>
              <Form.Select
                id="chroma"
                size="sm"
                value={chroma}
                onChange={(event) => setChroma(event.target.value as HandoffRequest["chroma"])}
              >
                <option value="4:2:0">4:2:0, even width and height</option>
                <option value="4:2:2">4:2:2, even width</option>
                <option value="4:4:4">4:4:4, any size</option>
              </Form.Select>
            </div>
            <div className="into">
              <Into project={project.id} request={request} />
            </div>
            <div className="into">
              <Links project={project.id} />
            </div>
          </div>
        </section>
        {nothing ? (
          <section className="sheet" aria-label="Files">
            <div className="sheet-head">
              <h2>Nothing to write</h2>
            </div>
            <p className="px-3">Choose at least one {nothing}.</p>
          </section>
        ) : (
          <Outcome project={project.id} request={request} />
        )}
      </div>
    </main>
  );
}

interface GroupProps<T> {
  name: string;
  keys: readonly T[];
  without: Chosen;
  label: (key: T) => (string | undefined)[];
  onToggle: (key: T) => void;
  onEvery: (keys: T[], wanted: boolean) => void;
}

function Group<T extends number | string>({ name, keys, without, label, onToggle, onEvery }: GroupProps<T>) {
  const left = keys.filter((key) => without.has(key)).length;
  return (
    <fieldset>
      <legend>
        {name}{" "}
        <small className="quiet num">
          {keys.length - left} of {keys.length}
        </small>
        <button type="button" onClick={() => onEvery([...keys], left > 0)}>
          {left > 0 ? "Select all" : "Clear"}
        </button>
      </legend>
      {keys.map((key) => {
        const [title, detail] = label(key);
        return (
          <Form.Check
            key={key}
            id={`go-${name}-${key}`}
            checked={!without.has(key)}
            onChange={() => onToggle(key)}
            label={
              <>
                {title} <small className="quiet">{detail}</small>
              </>
            }
          />
        );
      })}
    </fieldset>
  );
}

/** What stands in the way, the files, and the writing itself. */
function Outcome({ project, request }: { project: number; request: HandoffRequest }) {
  const { tell } = useNotices();
  const { data: preview, error } = useQuery({
    ...handoffPreviewQuery(project, request),
    placeholderData: keepPreviousData,
  });
  const [job, setJob] = useState<number>();
  const { data: state } = useQuery({ ...handoffQuery(job ?? 0), enabled: job !== undefined });
  const { run: begin, pending } = useOnce(async () => {
    try {
      const begun = await settled(
        api.POST("/api/v1/projects/{project}/handoff", { params: { path: { project } }, body: request }),
      );
      setJob(begun.id);
    } catch (failure) {
      tell(`Hand-off not started: ${failureText(failure)}`);
    }
  });
  const stop = () => {
    if (job === undefined) return;
    const stopped = settled(api.DELETE("/api/v1/handoffs/{handoff}", { params: { path: { handoff: job } } }));
    stopped.catch((failure) => tell(`Not stopped: ${failureText(failure)}`));
  };
  const ready = state?.state === "ready" ? state.id : undefined;
  useEffect(() => {
    // The archive comes as it is ready; the link stays for a second time.
    if (ready !== undefined) location.assign(`/api/v1/handoffs/${ready}/archive`);
  }, [ready]);
  const working = state?.state === "working" || state?.state === "waiting";
  const folders = new Map<string, string[]>();
  const openPoints = preview?.points.filter(({ open }) => open > 0) ?? [];
  const acceptedPoints = preview?.points.filter(({ open }) => open === 0) ?? [];
  for (const { path } of preview?.files ?? []) {
    const [folder, name] = path.includes("/") ? path.split("/") : ["", path];
    folders.set(folder ?? "", [...(folders.get(folder ?? "") ?? []), name ?? ""]);
  }
  return (
    <section className="sheet outcome" aria-label="Files">
      <div className="sheet-head">
        <h2>Files</h2>
        {preview && (
          <small>
            {count(preview.conversions, "conversion")}, {count(preview.files.length + 1, "file")}
          </small>
        )}
        <div className="end">
          {working ? (
            <Button size="sm" onClick={stop}>
              Stop
            </Button>
          ) : (
            <Button
              size="sm"
              variant="ink"
              disabled={!preview || preview.stops.length > 0}
              aria-disabled={pending}
              onClick={begin}
            >
              Hand off
            </Button>
          )}
        </div>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and keys must reach it */}
      <div className="scroll px-3" role="status" tabIndex={0}>
        {error && <Notice slim>{failureText(error)}</Notice>}
        {state && <Progress state={state} />}
        {preview && preview.stops.length > 0 && (
          <Standing
            mark="stop"
            head={`${count(preview.stops.length, "blocking finding")}: fix or accept first`}
          >
            {preview.stops.map(({ source, frame, conversion, message, code }) => (
              <li key={`${source} ${frame} ${code}`}>
                <Link to={`/projects/${project}/board/${source}/${frame}`}>{conversion}</Link>
                <span className="quiet"> {message}</span>
              </li>
            ))}
          </Standing>
        )}
        {preview && preview.stops.length === 0 && (
          <p className="verdict">
            <SeverityMark severity={openPoints.length > 0 ? "caution" : null} /> Nothing blocks this hand-off.{" "}
            {openPoints.length > 0 ? "The sheets list what stands open:" : "Nothing stands open."}
          </p>
        )}
        {openPoints.length > 0 && (
          <Standing
            mark="caution"
            head={
              <Link to={`/projects/${project}/board/points`}>{count(openPoints.length, "open point")}</Link>
            }
          >
            {openPoints.map(({ key, title, detail }) => (
              <li key={key}>
                {title} <span className="quiet">{detail}</span>
              </li>
            ))}
          </Standing>
        )}
        {acceptedPoints.length > 0 && (
          <Standing mark={null} head={`${count(acceptedPoints.length, "point")} accepted`}>
            {acceptedPoints.map(({ key, title, reason }) => (
              <li key={key}>
                {title} <span className="quiet">{reason}</span>
              </li>
            ))}
          </Standing>
        )}
        {preview && preview.without_recipe.length > 0 && (
          <Standing
            mark="caution"
            head={`${count(preview.without_recipe.length, "conversion")} without a recipe`}
          >
            {preview.without_recipe.map((why) => (
              <li key={why}>{why}</li>
            ))}
          </Standing>
        )}
        {preview && preview.left_out.length > 0 && (
          <Standing mark="caution" head={`${count(preview.left_out.length, "picture")} left out`}>
            {preview.left_out.map(({ path, why }) => (
              <li key={path}>
                {path}: {why}
              </li>
            ))}
          </Standing>
        )}
        {preview && (
          <ul className="written num" aria-label={preview.name}>
            <li>
              <b>{preview.name}</b>
            </li>
            {[...folders].map(([folder, names]) => (
              <li key={folder}>
                {folder && <span>{folder}/</span>}
                <ul className={folder ? "in-folder" : ""}>
                  {names.map((name) => (
                    <li key={name}>{name}</li>
                  ))}
                  {folder === "" && <li>manifest.json</li>}
                </ul>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}

interface StandingProps {
  mark: "stop" | "caution" | null;
  head: ReactNode;
  children: ReactNode;
}

function Standing({ mark, head, children }: StandingProps) {
  return (
    <div className="standing">
      <p>
        <SeverityMark severity={mark} accepted={mark === null} /> <b>{head}</b>
      </p>
      <ul>{children}</ul>
    </div>
  );
}

function Progress({
  state,
}: {
  state: {
    state: string;
    before: number;
    done: number;
    all: number;
    id: number;
    name: string;
    bytes?: number | null | undefined;
    error?: string | null | undefined;
  };
}) {
  if (state.state === "waiting")
    return <p className="verdict quiet">Waiting: {count(state.before, "other hand-off")} first.</p>;
  if (state.state === "working")
    return (
      <p className="reading-progress">
        <progress value={state.done} max={state.all} aria-label="Progress of the hand-off" />
        <span className="num">
          {state.done} of {state.all}
        </span>
      </p>
    );
  if (state.state === "ready")
    return (
      <p className="verdict">
        <SeverityMark severity={null} /> Handed off.{" "}
        <a href={`/api/v1/handoffs/${state.id}/archive`} download>
          Download {state.name} again
        </a>
        , {((state.bytes ?? 0) / 1e6).toFixed(1)} MB.
      </p>
    );
  if (state.state === "stopped") return <p className="verdict quiet">Stopped. Nothing was written.</p>;
  return <Notice slim>Hand-off failed: {state.error}</Notice>;
}
