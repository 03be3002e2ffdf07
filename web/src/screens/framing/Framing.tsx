import { useRef } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { api, type Conversion, type Frame, preview, type Source } from "../../api/client";
import { SeverityMark } from "../../drawing/marks";
import { raster, ratio } from "../../drawing/numbers";
import { TitleBlock } from "../../drawing/TitleBlock";
import { FOLLOW_KEY, METHODS, SPEAKERS } from "../../shell/methods";
import { useNotices } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { useKeys } from "../../shell/useKeys";
import { Candidates, candidatesOf, framingText } from "./Candidates";
import { Checks } from "./Checks";
import { Dial } from "./Dial";
import { FramePanel } from "./FramePanel";
import { SourcePanel, type SourceView } from "./SourcePanel";
import { type Candidate, useFraming } from "./useFraming";
import type { useView } from "./useView";

const NUDGES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface Props {
  source: Source;
  frame: Frame;
  conversion: Conversion;
  frameBy: (by: number) => void;
  /** The conversion that was looked at before this one. */
  before?: { source: number; frame: number };
  /** Whether the address still names this conversion. */
  isHere: () => boolean;
  /** How source and frame are looked at; it stays while conversions are stepped through. */
  sourceView: SourceView;
  setSourceView: (part: Partial<SourceView>) => void;
  looks: ReturnType<typeof useView>;
}

/** One conversion: the source, the frame, what it costs, what to type elsewhere. */
export function Framing(props: Props) {
  const { source, frame, conversion, frameBy, before, isHere, sourceView, setSourceView, looks } = props;
  const { project, sources, frames } = useBoard();
  const { tell, tellFailure } = useNotices();
  const framing = useFraming(source, frame, conversion);
  const { shown, peek } = framing;
  const { pins } = conversion.choice;

  const pin = async () => {
    const now = peek?.framing ?? conversion.framing;
    if (pins.length >= 6) return tell("Six framings are pinned here already: take one off first.");
    await framing.choose({ pins: [...pins, now] });
  };
  const unpin = (at: number) => {
    framing.setPeek(null);
    framing.choose({ pins: pins.filter((_, place) => place !== at) });
  };
  const last = useRef<Candidate | null>(null);
  if (peek) last.current = peek;
  const flick = () => {
    if (peek) return framing.setPeek(null);
    const [first] = candidatesOf(pins).filter(({ pin }) => pin !== undefined);
    framing.setPeek(last.current ?? first ?? candidatesOf([])[0] ?? null);
  };
  const samePlace = async () => {
    if (!before) return tell("There is no conversion before this one yet: step here from another.");
    try {
      const found = await preview(
        api.POST("/api/v1/projects/{project}/conversions/{source}/{frame}/preview", {
          params: { path: framing.path },
          body: { like: [before.source, before.frame] },
        }),
      );
      if (found.sound) framing.takeFraming(found.value.framing);
      else tell(found.problem.detail);
    } catch (error) {
      tellFailure("The place was not carried on", error);
    }
  };

  useKeys(
    (key, event) => {
      // Not for a conversion that is just being left.
      if (!isHere()) return false;
      const nudge = NUDGES[key];
      if (nudge) {
        // The list of checks and the cards scroll by these keys.
        if (event.target instanceof Element && event.target.closest(".scroll, .cards")) return false;
        const step = frame.values.geometry.step;
        const by = event.ctrlKey || event.metaKey ? step : event.shiftKey ? 10 : 1;
        framing.nudge(nudge[0] * by, nudge[1] * by);
        return true;
      }
      if (event.ctrlKey || event.metaKey) return false;
      if (key === "Escape") {
        // What was begun is left first, then the screen.
        if (peek) framing.setPeek(null);
        else if (framing.typed) framing.drop();
        else if (sourceView.marking) setSourceView({ marking: false });
        else return false;
        return true;
      }
      const method = METHODS.find((each) => each.key === key.toLowerCase());
      if (method) framing.setMethod(method.id);
      else if (key === "+" || key === "-") framing.push(key === "+" ? 1.01 : 1 / 1.01, { x: 0, y: 0 });
      else if (key === "." || key === ",") framing.pushClean(key === ".");
      else if (key === "Enter" && peek) framing.takeFraming(peek.framing);
      else {
        const act: Record<string, () => void> = {
          [FOLLOW_KEY]: () => framing.setMethod(null),
          e: () => setSourceView({ common: !sourceView.common, stored: false }),
          o: () => setSourceView({ stored: !sourceView.stored, marking: false }),
          s: () => setSourceView({ marking: !sourceView.marking, stored: false }),
          v: event.shiftKey ? looks.nextPercent : looks.nextCorner,
          i: () =>
            looks.setGuides(
              looks.guides.thirds ? { ...looks.guides, thirds: false } : { ...looks.guides, thirds: true },
            ),
          p: pin,
          f: flick,
          m: samePlace,
        };
        const run = act[key.toLowerCase()];
        if (!run) return false;
        run();
      }
      return true;
    },
    { ctrlArrows: true },
  );

  const worst = shown.crossing.severity;
  const other = before && [
    sources.find(({ id }) => id === before.source)?.values.name,
    frames.find(({ id }) => id === before.frame)?.values.name,
  ];
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
          {shown.crossing.accepted > 0 && ` · ${shown.crossing.accepted} accepted`}
        </span>
        <div className="end">
          <span className="level" role="note">
            <b>{framingText(conversion.framing)}</b> from {SPEAKERS[conversion.crossing.speaker]}
          </span>
          <Button
            disabled={conversion.crossing.speaker !== "own"}
            aria-keyshortcuts={FOLLOW_KEY}
            title="Drop what it has of its own and follow: source, frame, board, the nearest that has a method"
            onClick={() => framing.setMethod(null)}
          >
            Follow <kbd>{FOLLOW_KEY.toUpperCase()}</kbd>
          </Button>
          <Button
            onClick={samePlace}
            disabled={!before}
            aria-keyshortcuts="M"
            title={
              other
                ? `The same place of the picture as in ${other.join(" into ")}`
                : "The same place of the picture as in the conversion before"
            }
          >
            Same place <kbd>M</kbd>
          </Button>
          <Button onClick={() => frameBy(-1)} aria-label="The frame before" aria-keyshortcuts="[">
            ‹ <kbd>[</kbd>
          </Button>
          <Button onClick={() => frameBy(1)} aria-label="The frame after" aria-keyshortcuts="]">
            <kbd>]</kbd> ›
          </Button>
        </div>
      </div>
      <div className="framing" data-of={`${source.id}/${frame.id}`}>
        <SourcePanel
          project={project.id}
          source={source}
          frame={frame}
          frames={frames}
          framing={framing}
          view={sourceView}
          setView={setSourceView}
        />
        <Candidates
          source={source}
          frame={frame}
          framing={framing}
          pins={pins}
          now={conversion.framing}
          onPin={pin}
          onUnpin={unpin}
          onFlick={flick}
        />
        <FramePanel source={source} frame={frame} framing={framing} looks={looks} />
        <section className="sheet dial" aria-label="Dial in and checks">
          <Dial framing={framing} />
          <Checks project={project.id} source={source} frame={frame} framing={framing} />
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
