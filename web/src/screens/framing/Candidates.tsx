import { useQueries } from "@tanstack/react-query";
import { memo } from "react";
import { Button } from "react-bootstrap";
import type { Crossing, Frame, FramingValues, Source } from "../../api/client";
import { conversionPreview } from "../../api/queries";
import { CrossingDrawing } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { asNumber, count, percent, short } from "../../drawing/numbers";
import { usePicture } from "../../drawing/picture";
import { sizeText } from "../../drawing/summary";
import { Key, keysOf } from "../../keys/Key";
import { METHOD_LIST, methodName } from "../../keys/methods";
import { For, useMay } from "../../people/may";
import { tip } from "../../tip";
import { isMoved, plainFraming } from "../../writes/useChooseFraming";
import type { Candidate } from "./hand";
import type { Framing } from "./useFraming";

/** The most framings that are pinned to one conversion. */
const MOST_PINS = 6;

export const same = (a: FramingValues, b: FramingValues) =>
  a.method === b.method &&
  asNumber(a.zoom) === asNumber(b.zoom) &&
  a.shift.every((shift, at) => asNumber(shift) === asNumber(b.shift[at]));

/** A framing in a few words. */
export function framingText({ method, zoom, shift }: FramingValues): string {
  const zoomed = asNumber(zoom) === 1 ? "" : ` × ${short(asNumber(zoom), 3)}`;
  const shifted = shift.map(asNumber).flatMap((by, axis) => {
    const ways = axis === 0 ? ["left", "right"] : ["up", "down"];
    return by === 0 ? [] : [`${short(Math.abs(by), 0)} ${ways[Number(by > 0)]}`];
  });
  return [`${methodName(method)}${zoomed}`, ...shifted].join(", ");
}

/** The framing that was imported, those that are pinned here, then every method. */
export function candidatesOf(
  pins: readonly FramingValues[],
  imported: FramingValues | null | undefined,
): (Candidate & { pin?: number | undefined })[] {
  return [
    ...(imported ? [{ name: `Imported: ${framingText(imported)}`, framing: imported, pin: -1 }] : []),
    ...pins.map((framing, at) => ({ name: `Pin ${at + 1}: ${framingText(framing)}`, framing, pin: at })),
    ...METHOD_LIST.map(({ id, name }) => ({ name, framing: plainFraming(id) })),
  ];
}

function cardName({ name, pin }: { name: string; pin?: number | undefined }): string {
  if (pin === undefined) return name;
  return pin < 0 ? "Imported" : `Pin ${pin + 1}`;
}

interface Props {
  source: Source;
  frame: Frame;
  framing: Framing;
  /** What the conversion is stored as, not what is looked at. */
  pins: readonly FramingValues[];
  imported: FramingValues | null | undefined;
  now: FramingValues;
  onPin: () => void;
  onUnpin: (at: number) => void;
  onFlick: () => void;
}

/** What the cards are made of. The rest of `framing` changes with every frame of a drag, and is not drawn here. */
const made = ({ source, frame, framing, pins, imported, now }: Props) => [
  source.version,
  frame.version,
  framing.peek,
  pins,
  imported,
  now,
];

/** Methods and pinned framings side by side, with what each costs. */
export const Candidates = memo(SideBySide, (before, after) => {
  const [old, next] = [made(before), made(after)];
  return old.every((part, at) => part === next[at]);
});

function SideBySide({ source, frame, framing, pins, imported, now, onPin, onUnpin, onFlick }: Props) {
  const picture = usePicture(source, 320);
  const { path, peek } = framing;
  const plans = useMay("plan");
  const candidates = candidatesOf(pins, imported);
  // What the cards are computed from; not the framing, so that they stay while it moves.
  const stamp = `${source.version}.${frame.version}`;
  const previews = useQueries({
    queries: candidates.map(({ framing }) => conversionPreview(path, { own: framing }, stamp)),
  });
  return (
    <section className="side-by-side" aria-label="Framings side by side">
      <div className="side-head">
        <h2>Side by side</h2>
        <small>what each keeps, covers, enlarges and distorts</small>
        <div className="end">
          <For may="plan">
            <Button size="sm" disabled={pins.length >= MOST_PINS} {...keysOf("pin")} onClick={onPin}>
              Pin framing <Key of="pin" />
            </Button>
          </For>
          <Button
            size="sm"
            active={peek !== null}
            aria-pressed={peek !== null}
            {...keysOf("compare")}
            {...tip("Switch between this framing and the one last previewed")}
            onClick={onFlick}
          >
            Compare <Key of="compare" />
          </Button>
        </div>
      </div>
      <div className="cards">
        {candidates.map((candidate, at) => {
          const answer = previews[at]?.data;
          const crossing = answer?.sound ? answer.value.crossing : undefined;
          const chosen = same(now, candidate.framing) && (candidate.pin !== undefined || !isMoved(now));
          const looked = peek?.name === candidate.name;
          const method = METHOD_LIST.find(({ id }) => id === candidate.framing.method);
          return (
            <div key={candidate.name} className={`method-card ${looked ? "looked" : ""}`}>
              <button
                type="button"
                className="choose"
                aria-pressed={chosen}
                {...(candidate.pin === undefined && method ? keysOf(method.id) : {})}
                {...tip(candidate.pin === undefined ? method?.does : candidate.name)}
                onClick={() => framing.takeFraming(candidate.framing, candidate.name)}
              >
                <span className="row-1">
                  <b>
                    {cardName(candidate)} {method && candidate.pin === undefined && <Key of={method.id} />}
                  </b>
                  <span className="num">{crossing && sizeText(crossing.native_percent)}</span>
                  <SeverityMark severity={crossing?.severity} />
                </span>
                <span className="card-drawing">
                  {crossing && (
                    <CrossingDrawing
                      crossing={crossing}
                      frame={frame}
                      width={120}
                      height={40}
                      picture={picture}
                    />
                  )}
                </span>
                <Costs crossing={crossing} />
              </button>
              <span className="card-tools">
                <button
                  type="button"
                  aria-label={`Preview ${candidate.name}`}
                  aria-pressed={looked}
                  onClick={() => framing.setPeek(looked ? null : candidate)}
                >
                  preview
                </button>
                {plans && candidate.pin !== undefined && (
                  <button
                    type="button"
                    aria-label={
                      candidate.pin < 0 ? "Forget the imported framing" : `Remove pin ${candidate.pin + 1}`
                    }
                    onClick={() => onUnpin(candidate.pin ?? 0)}
                  >
                    ×
                  </button>
                )}
              </span>
            </div>
          );
        })}
      </div>
    </section>
  );
}

/** What a framing costs, in three lines. Their room is kept while it is worked out, so that nothing jumps. */
function Costs({ crossing }: { crossing?: Crossing | undefined }) {
  return costs(crossing).map((cost, at) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the costs stand in one order
    <span key={at} className="num quiet">
      {cost}
    </span>
  ));
}

function costs(crossing?: Crossing): string[] {
  if (!crossing) return ["\u00a0", "\u00a0", "\u00a0"];
  const scale = Math.max(...crossing.scale);
  const bend = crossing.distortion;
  const third =
    bend !== 0
      ? `distorts ${percent(Math.abs(bend))} %`
      : scale > 1
        ? `enlarges ${short(scale, 2)}×`
        : crossing.findings.length > 0
          ? count(crossing.findings.length, "finding")
          : "no findings";
  return [`keeps ${percent(crossing.kept)} %`, `covers ${percent(crossing.covered)} %`, third];
}
