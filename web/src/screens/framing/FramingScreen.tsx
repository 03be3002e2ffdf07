import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, matchPath, useNavigate, useParams } from "react-router";
import {
  type Conversion,
  type Frame,
  type FramingValues,
  type Method,
  Refused,
  type Source,
  wrongAt,
} from "../../api/client";
import { waitForRest } from "../../api/inOrder";
import { commonQuery, conversionPreview, conversionQuery } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { percent, raster, rate, ratio } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { Field } from "../../fields/Field";
import { FOLLOW_KEY, METHODS, SPEAKERS } from "../../shell/methods";
import { failureText } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { useKeys } from "../../shell/useKeys";
import { MethodButtons } from "../board/MethodButtons";
import { plainFraming, useChooseFraming } from "../board/useChooseFraming";
import { Dial } from "./Dial";
import { FrameDrawing, type Handles, WindowDrawing } from "./drawings";
import { MethodCards } from "./MethodCards";
import { ahead, dragged, type Move, moveOf, nudged, pushed } from "./slide";

/** How long nudges must rest before they are stored as one change. */
const REST = 600;

const NUDGES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const ADDRESS = "/projects/:project/board/:source/:frame";

export function FramingScreen() {
  const { project, sources, frames } = useBoard();
  const params = useParams();
  const source = sources.find((each) => String(each.id) === params.source);
  const frame = frames.find((each) => String(each.id) === params.frame);
  const path = { project: project.id, source: Number(params.source), frame: Number(params.frame) };
  const { data: conversion, error } = useQuery({
    ...conversionQuery(path),
    enabled: Boolean(source && frame),
  });
  const navigate = useNavigate();
  const board = `/projects/${project.id}/board`;
  const step = (sourceBy: number, frameBy: number) => {
    const now = addressed();
    const toSource = sources[sources.findIndex(({ id }) => id === now.source) + sourceBy];
    const toFrame = frames[frames.findIndex(({ id }) => id === now.frame) + frameBy];
    if (toSource && toFrame) navigate(`${board}/${toSource.id}/${toFrame.id}`);
  };
  const frameBy = (by: number) => step(0, by);
  const [showsCommon, setShowsCommon] = useState(false);
  useKeys((key) => {
    const now = addressed();
    if (key === "Escape") navigate(`${board}?source=${now.source}&frame=${now.frame}`);
    else if (key === "[") frameBy(-1);
    else if (key === "]") frameBy(1);
    else if (key === "{") step(-1, 0);
    else if (key === "}") step(1, 0);
    else return false;
    return true;
  });
  if (!source || !frame || (error instanceof Refused && !conversion)) {
    return (
      <main className="page">
        <div className="notice" role="alert">
          <span>
            {error ? failureText(error) : "This conversion is gone: its source or its frame was deleted."}
          </span>
          <Link to={`/projects/${project.id}/board`}>Back to the board</Link>
        </div>
      </main>
    );
  }
  if (!conversion) {
    return (
      <main className="page">
        {error ? (
          <div className="notice" role="alert">
            {failureText(error)}
          </div>
        ) : (
          <p className="quiet" role="status">
            Working it out …
          </p>
        )}
      </main>
    );
  }
  return (
    <Framing
      key={`${source.id}-${frame.id}`}
      source={source}
      frame={frame}
      conversion={conversion}
      frameBy={frameBy}
      showsCommon={showsCommon}
      setShowsCommon={setShowsCommon}
    />
  );
}

/** The conversion of the address: it is ahead of what is drawn while keys come fast. */
function addressed(): { source: number; frame: number } {
  const { source, frame } = matchPath(ADDRESS, window.location.pathname)?.params ?? {};
  return { source: Number(source), frame: Number(frame) };
}

interface FramingProps {
  source: Source;
  frame: Frame;
  conversion: Conversion;
  frameBy: (by: number) => void;
  /** Whether all frames are drawn on the source; it stays while conversions are stepped through. */
  showsCommon: boolean;
  setShowsCommon: (shows: boolean) => void;
}

function Framing(props: FramingProps) {
  const { source, frame, conversion, frameBy, showsCommon, setShowsCommon } = props;
  const { project } = useBoard();
  const choose = useChooseFraming(project.id);
  const [typed, setTyped] = useState<Move | null>(null);
  const move = typed ?? moveOf(conversion.framing);
  const framingOf = ({ zoom, x, y }: Move): FramingValues => ({
    method: conversion.framing.method,
    zoom: zoom.trim(),
    shift: [x.trim(), y.trim()],
  });
  const draft = framingOf(move);
  const key = { source: source.id, frame: frame.id };
  const stamp = `${source.version}.${frame.version}.${conversion.version}`;
  const preview = useQuery({
    ...conversionPreview({ project: project.id, ...key }, draft, stamp),
    enabled: typed !== null,
  }).data;
  const problem = typed && preview && !preview.sound ? preview.problem : undefined;
  // The last good drawing stays while what is typed is refused.
  const [lastGood, setLastGood] = useState(conversion);
  const shown = typed === null ? conversion : preview?.sound ? preview.value : lastGood;
  useEffect(() => setLastGood(shown), [shown]);

  const what = `${source.values.name} into ${frame.values.name}`;
  const put = async (own: FramingValues | null) => {
    const stored = latest.current.typed;
    const set = await choose(key, conversion.version, own, what);
    // What has been typed or nudged meanwhile goes on from there.
    if (set && latest.current.typed === stored) take(null);
  };
  const setMethod = (method: Method | null) => {
    // The method takes zoom and shift away, those that still wait to be stored as well.
    clearTimeout(rest.current);
    rest.current = undefined;
    if (method !== null || conversion.crossing.speaker === "own")
      put(method === null ? null : plainFraming(method));
  };
  const commit = () => {
    clearTimeout(rest.current);
    rest.current = undefined;
    if (latest.current.typed && !problem) put(framingOf(latest.current.typed));
  };
  const edit = (part: Partial<Move>) => take({ ...move, ...part });
  const drop = () => {
    clearTimeout(rest.current);
    rest.current = undefined;
    take(null);
  };

  // A drag is one change, and so are nudges that follow each other.
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef({ typed, commit });
  latest.current = { typed, commit };
  const take = (next: Move | null) => {
    latest.current.typed = next;
    setTyped(next);
  };
  const now = () => latest.current.typed ?? moveOf(conversion.framing);
  const soon = (next: Move) => {
    take(next);
    clearTimeout(rest.current);
    rest.current = setTimeout(() => latest.current.commit(), REST);
  };
  useEffect(() => {
    const ask = () => {
      if (rest.current !== undefined) latest.current.commit();
    };
    const forget = waitForRest(ask);
    return () => {
      forget();
      ask();
    };
  }, []);
  const start = useRef(move);
  const handles: Handles = {
    onStart: () => {
      start.current = now();
    },
    onDrag: (by, k, event) =>
      take(
        dragged({
          start: start.current,
          by,
          k,
          travel: conversion.plan.travel,
          straight: event.shiftKey,
          free: event.ctrlKey || event.metaKey,
        }),
      ),
    onEnd: (moved) => moved && commit(),
    onCancel: drop,
    onPush: (factor, about) => soon(pushed(now(), factor, about)),
  };
  const image = ahead(shown, move);
  const { data: common } = useQuery({ ...commonQuery(project.id, source.id), enabled: showsCommon });

  useKeys((key, event) => {
    const at = addressed();
    // Not for a conversion that is just being left.
    if (at.source !== source.id || at.frame !== frame.id) return false;
    const nudge = NUDGES[key];
    if (nudge) {
      // The list of checks scrolls by these keys.
      if (event.target instanceof Element && event.target.closest(".findings")) return false;
      const by = event.shiftKey ? 10 : 1;
      soon(nudged(now(), nudge[0] * by, nudge[1] * by));
      return true;
    }
    if (key === "+" || key === "-") {
      soon(pushed(now(), key === "+" ? 1.01 : 1 / 1.01, { x: 0, y: 0 }));
      return true;
    }
    const method = METHODS.find((each) => each.key === key.toLowerCase());
    if (method) setMethod(method.id);
    else if (key.toLowerCase() === FOLLOW_KEY) setMethod(null);
    else if (key === "e") setShowsCommon(!showsCommon);
    else return false;
    return true;
  });

  const findings = shown.plan.findings;
  const { cadence } = shown.crossing;
  const worst = shown.crossing.severity;
  const shift = { onDone: commit, onEscape: typed ? drop : undefined, numeric: true };
  return (
    <main className="page">
      <div className="page-head">
        <span>
          <Link to={`/projects/${project.id}/board?source=${source.id}&frame=${frame.id}`}>Board</Link>{" "}
          <span className="quiet">›</span>
        </span>
        <h1>{source.values.name}</h1>
        <span className="quiet">into</span>
        <h1>{frame.values.name}</h1>
        <span className={`tally ${worst === "stop" ? "stop" : worst === "caution" ? "caution" : "ok"}`}>
          <SeverityMark severity={worst} />
          {worst === "stop" ? "must stop" : worst === "caution" ? "to look at" : "clean"}
        </span>
        <div className="end">
          <span className="level" role="note">
            from {SPEAKERS[conversion.crossing.speaker]}
          </span>
          <MethodButtons
            method={shown.framing.method}
            own={conversion.crossing.speaker === "own"}
            onMethod={setMethod}
          />
          <Button onClick={() => frameBy(-1)} aria-label="The frame before" aria-keyshortcuts="[">
            ‹ <kbd>[</kbd>
          </Button>
          <Button onClick={() => frameBy(1)} aria-label="The frame after" aria-keyshortcuts="]">
            <kbd>]</kbd> ›
          </Button>
        </div>
      </div>
      <div className="framing">
        <section className="sheet on-source" aria-label="On the source">
          <div className="sheet-head">
            <h2>On the source</h2>
            {common && showsCommon ? (
              <small role="status">
                every frame keeps <b className="num">{percent(common.every_share.value)} %</b>, some frame
                shows <b className="num">{percent(common.some_share.value)} %</b>
              </small>
            ) : (
              <small>upright, as seen; lengths in lines of the stored picture</small>
            )}
            <Button
              size="sm"
              className="end"
              active={showsCommon}
              aria-pressed={showsCommon}
              aria-keyshortcuts="E"
              title="Draw what every frame shows: keep the action there. What no frame shows may hold the boom."
              onClick={() => setShowsCommon(!showsCommon)}
            >
              All frames <kbd>E</kbd>
            </Button>
          </div>
          <WindowDrawing
            source={source}
            frame={frame}
            conversion={shown}
            image={image}
            handles={handles}
            common={showsCommon ? common : undefined}
          />
        </section>
        <MethodCards source={source} frame={frame} conversion={conversion} onMethod={setMethod} />
        <section className="sheet in-frame" aria-label="In the frame">
          <div className="sheet-head">
            <h2>In the frame</h2>
            <small>delivery pixels</small>
          </div>
          <FrameDrawing frame={frame} conversion={shown} image={image} handles={handles} />
          <div className="fields">
            <Field
              label="zoom"
              unit="×"
              value={move.zoom}
              wrong={wrongAt(problem, "/own/zoom")}
              onText={(zoom) => edit({ zoom })}
              {...shift}
            />
            <div />
            <Field
              label="shift right"
              unit="px"
              value={move.x}
              wrong={wrongAt(problem, "/own/shift/0")}
              onText={(x) => edit({ x })}
              {...shift}
            />
            <Field
              label="shift down"
              unit="px"
              value={move.y}
              wrong={wrongAt(problem, "/own/shift/1")}
              onText={(y) => edit({ y })}
              {...shift}
            />
          </div>
        </section>
        <section className="sheet dial" aria-label="Dial in and checks">
          <div className="sheet-head">
            <h2>Dial in</h2>
            <small>one placement; a click copies</small>
          </div>
          <Dial plan={shown.plan} />
          <div className="sheet-head rule mt-2">
            <h2>Checks</h2>
          </div>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it may be longer than its room, and keys scroll it */}
          <ul className="findings scroll" tabIndex={0}>
            {findings.map((finding) => (
              <li key={finding.code}>
                <SeverityMark severity={finding.severity} />
                <span>{finding.message}</span>
              </li>
            ))}
            {cadence && !cadence.mixed && (
              <li className="quiet">
                <SeverityMark severity={null} />
                <span>
                  {rate(source.values.rate)} in {rate(frame.values.rate)}: {cadence.words}.
                </span>
              </li>
            )}
            {!findings.some(({ code }) => code === "distorted") && (
              <li className="quiet">
                <SeverityMark severity={null} />
                <span>Circles stay round.</span>
              </li>
            )}
            {!findings.some(({ code }) => code.startsWith("enlarged")) && (
              <li className="quiet">
                <SeverityMark severity={null} />
                <span>No stored pixel is enlarged.</span>
              </li>
            )}
          </ul>
          <TitleBlock
            entries={[
              ["project", project.values.name],
              ["date", new Date().toLocaleDateString("sv")],
              [
                "source",
                `${raster(source.values.geometry.raster)} · ${ratio(source.shape.upright.ratio.value)}`,
              ],
              [
                "frame",
                `${raster(frame.values.geometry.raster)} · ${ratio(frame.shape.picture_ratio.value)}`,
              ],
            ]}
          />
        </section>
      </div>
    </main>
  );
}
