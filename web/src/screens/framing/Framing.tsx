import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { api, type Conversion, type Frame, preview, type Source } from "../../api/client";
import { SeverityMark } from "../../drawing/marks";
import { raster, ratio } from "../../drawing/numbers";
import { PicturesButton } from "../../drawing/PicturesButton";
import { TitleBlock } from "../../drawing/TitleBlock";
import { here, keep, kept } from "../../kept";
import { Key, keysOf } from "../../keys/Key";
import { methodCommands } from "../../keys/methodCommands";
import { SPEAKERS } from "../../keys/methods";
import type { Handlers } from "../../keys/stack";
import { useCommands } from "../../keys/useCommands";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { Candidates, candidatesOf, framingText } from "./Candidates";
import { Checks } from "./Checks";
import { Dial } from "./Dial";
import { FramePanel } from "./FramePanel";
import type { Candidate } from "./hand";
import { SourcePanel, type SourceView } from "./SourcePanel";
import { TypeThis } from "./TypeThis";
import { useFraming } from "./useFraming";
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
  before?: { source: number; frame: number } | undefined;
  /** Whether the address still names this conversion. */
  isHere: () => boolean;
  /** How source and frame are looked at; it stays while conversions are stepped through. */
  sourceView: SourceView;
  setSourceView: (part: Partial<SourceView>) => void;
  looks: ReturnType<typeof useView>;
}

const CONVENTIONS_SHOWN = "ratiomet.conventions";
const isFlag = (value: unknown): value is boolean => typeof value === "boolean";

/** One conversion: the source, the frame, what it costs, what to type elsewhere. */
export function Framing(props: Props) {
  const { source, frame, conversion, frameBy, before, isHere, sourceView, setSourceView, looks } = props;
  const { project, sources, frames } = useBoard();
  const { tell, tellFailure } = useNotices();
  const navigate = useNavigate();
  const framing = useFraming(source, frame, conversion);
  const { shown, peek } = framing;
  const { pins, imported } = conversion.choice;
  const [conventions, setConventions] = useState(() => kept(here, CONVENTIONS_SHOWN, false, isFlag));
  const switchConventions = () => {
    keep(here, CONVENTIONS_SHOWN, !conventions);
    setConventions(!conventions);
  };

  const pin = async () => {
    const now = peek?.framing ?? conversion.framing;
    if (pins.length >= 6) return tell("Six framings are pinned already. Remove one first.");
    await framing.choose({ pins: [...pins, now] });
  };
  const unpin = (at: number) => {
    framing.setPeek(null);
    void framing.choose(at < 0 ? { imported: null } : { pins: pins.filter((_, place) => place !== at) });
  };
  const last = useRef<Candidate | null>(null);
  if (peek) last.current = peek;
  const flick = () => {
    if (peek) return framing.setPeek(null);
    const [first] = candidatesOf(pins, imported).filter(({ pin }) => pin !== undefined);
    framing.setPeek(last.current ?? first ?? candidatesOf([], null)[0] ?? null);
  };
  const samePlace = async () => {
    if (!before) return tell("No previous conversion yet: come here from another one.");
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
      tellFailure("Place not kept", error);
    }
  };

  const step = frame.values.geometry.step;
  const nudge =
    (by: number, free = false) =>
    (key: string) => {
      // The list of checks and the cards scroll by these keys.
      if (document.activeElement?.closest(".scroll, .cards")) return false;
      const [x, y] = NUDGES[key.replace(/^.*\+/, "")] ?? [0, 0];
      if (!framing.nudge([x * by, y * by], free))
        tell(
          `The picture ends here. Ctrl ⇧ and an arrow ${x === 0 ? "up or down" : "left or right"} goes past its edge.`,
        );
      return true;
    };
  const commands: Handlers = {
    ...methodCommands(framing.setMethod),
    nudge: nudge(1),
    nudgeTen: nudge(10),
    nudgeStep: nudge(step),
    nudgePast: nudge(1, true),
    pushIn: () => framing.push(1.01, { x: 0, y: 0 }),
    pullOut: () => framing.push(1 / 1.01, { x: 0, y: 0 }),
    cleanAbove: () => framing.pushClean(true),
    cleanBelow: () => framing.pushClean(false),
    take: () => (peek ? framing.takeFraming(peek.framing) : false),
    allFrames: () => setSourceView({ common: !sourceView.common, stored: false }),
    stored: () => setSourceView({ stored: !sourceView.stored, marking: false }),
    subjectMark: () => setSourceView({ marking: !sourceView.marking, stored: false }),
    conventions: switchConventions,
    corner: looks.nextCorner,
    magnify: looks.nextPercent,
    pin,
    compare: flick,
    proof: () => void navigate(`/projects/${project.id}/board/${source.id}/${frame.id}/proof`),
    keepPlace: samePlace,
    // What was begun is taken back first, then the screen is left.
    back: () => {
      if (framing.begun) framing.drop();
      else if (sourceView.marking) setSourceView({ marking: false });
      else return false;
      return true;
    },
  };
  // Not for a conversion that is just being left.
  useCommands("drawing", isHere() ? commands : {});

  const worst = shown.crossing.severity;
  const other = before && [
    sources.find(({ id }) => id === before.source)?.values.name,
    frames.find(({ id }) => id === before.frame)?.values.name,
  ];
  return (
    <main className="page" id="main">
      <ScreenHead
        title={framing.what}
        up={{ to: `/projects/${project.id}/board?source=${source.id}&frame=${frame.id}`, name: "Board" }}
        beside={
          <span className={`tally ${worst === "stop" ? "stop" : worst === "caution" ? "caution" : "ok"}`}>
            <SeverityMark severity={worst} />
            {worst === "stop" ? "blocking" : worst === "caution" ? "to check" : "clean"}
            {shown.crossing.accepted > 0 && ` · ${shown.crossing.accepted} accepted`}
          </span>
        }
      >
        <span className="level" role="note">
          <b>{framingText(conversion.framing)}</b> set on {SPEAKERS[conversion.crossing.speaker]}
        </span>
        <PicturesButton />
        <Link
          className="btn"
          to={`/projects/${project.id}/board/${source.id}/${frame.id}/proof`}
          {...keysOf("proof")}
          {...tip("Carry it out on its picture, compare ways of resampling, measure what comes out")}
        >
          Proof <Key of="proof" />
        </Link>
        <For may="plan">
          <Button
            disabled={conversion.crossing.speaker !== "own"}
            {...keysOf("follow")}
            {...tip(
              "Remove its own framing: the nearest default applies, from the source, the frame or the board",
            )}
            onClick={() => framing.setMethod(null)}
          >
            Follow default <Key of="follow" />
          </Button>
        </For>
        <Button
          onClick={samePlace}
          disabled={!before}
          {...keysOf("keepPlace")}
          {...tip(
            `The same place of the picture as in ${other ? other.join(" into ") : "the previous conversion"}`,
          )}
        >
          Keep place <Key of="keepPlace" />
        </Button>
        <Button onClick={() => frameBy(-1)} aria-label="Previous frame" {...keysOf("previousFrame")}>
          ‹ <Key of="previousFrame" />
        </Button>
        <Button onClick={() => frameBy(1)} aria-label="Next frame" {...keysOf("nextFrame")}>
          <Key of="nextFrame" /> ›
        </Button>
      </ScreenHead>
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
          imported={imported}
          now={conversion.framing}
          onPin={pin}
          onUnpin={unpin}
          onFlick={flick}
        />
        <FramePanel source={source} frame={frame} framing={framing} looks={looks} />
        <section className="sheet dial" aria-label="Dial in and checks">
          <TypeThis
            source={source}
            frame={frame}
            framing={framing}
            all={conventions}
            onAll={switchConventions}
          />
          {conventions && <Dial framing={framing} />}
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
