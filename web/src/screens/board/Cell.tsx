import { type MouseEvent, memo } from "react";
import type { Crossing, Frame, Method, Source, Speaker } from "../../api/client";
import { CadenceDrawing } from "../../drawing/cadence";
import { CrossingDrawing } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { raster, ratio, short } from "../../drawing/numbers";
import { usePicture } from "../../drawing/picture";
import { apartText, barsText, sizeText } from "../../drawing/summary";
import { methodName } from "../../keys/methods";
import { tip } from "../../tip";

export type View = "frames" | "rates";

/** How it is marked that a method comes from the conversion itself or from its row. */
const MARKS: Record<Speaker, string> = { own: "*", source: " ›", frame: "", board: "" };

/** A method that was asked for a conversion and has not been answered yet; null lets it follow the default. */
export interface Asking {
  pair: string;
  method: Method | null;
}

export interface CellActions {
  onClick: (row: number, column: number, event: MouseEvent) => void;
  onOpen: () => void;
}

interface CellProps extends CellActions {
  id: string;
  row: number;
  column: number;
  crossing: Crossing;
  source: Source;
  frame: Frame;
  left: number;
  width: number;
  here: boolean;
  picked: boolean;
  /** It does not match what is asked for. */
  faded: boolean;
  view: View;
  asked: Asking["method"] | undefined;
}

export const Cell = memo(function Cell(props: CellProps) {
  const {
    id,
    row,
    column,
    crossing,
    source,
    frame,
    left,
    width,
    here,
    picked,
    faded,
    view,
    asked,
    onClick,
    onOpen,
  } = props;
  const picture = usePicture(source, 320);
  const { words } = wordsOf(crossing, view);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys
    <div
      id={id}
      className="cell"
      role="gridcell"
      aria-colindex={column + 2}
      aria-selected={picked}
      aria-busy={asked !== undefined}
      data-picked={picked}
      aria-label={`${source.values.name} into ${frame.values.name}: ${words}`}
      data-severity={crossing.severity ?? "clean"}
      data-here={here}
      data-faded={faded}
      style={{ left, width }}
      onClick={(event) => onClick(row, column, event)}
      onDoubleClick={onOpen}
      onMouseDown={(event) => event.shiftKey && event.preventDefault()}
    >
      <CellParts {...{ crossing, frame, width, view, asked, picture }} />
    </div>
  );
});

/** What a crossing says, in one line and in parts. */
export function wordsOf(crossing: Crossing, view: View) {
  const { cadence, imported } = crossing;
  const size = sizeText(crossing.native_percent);
  const bars = barsText(crossing.bars);
  const kept = `keeps ${short(crossing.kept * 100, crossing.kept < 0.1 ? 1 : 0)}%`;
  const method = `${methodName(crossing.method)}${MARKS[crossing.speaker]}`;
  const apart = apartText(imported);
  const origin = apart ?? (imported ? "as imported" : "");
  const words =
    view === "rates"
      ? (cadence?.words ?? "rate unknown")
      : `${method}, ${size}, ${bars ? `${bars}, ${kept}` : kept}${
          apart ? `, ${apart} of the imported framing` : origin && `, ${origin}`
        }`;
  return { words, size, bars, kept, method, apart, origin };
}

interface PartsProps {
  crossing: Crossing;
  frame: Frame;
  width: number;
  view: View;
  asked: Asking["method"] | undefined;
  picture: ReturnType<typeof usePicture>;
}

/** What stands in a cell: its method where it is one of its own, its drawing, its numbers. */
export function CellParts({ crossing, frame, width, view, asked, picture }: PartsProps) {
  const { cadence } = crossing;
  const { size, bars, kept, method, apart, origin } = wordsOf(crossing, view);
  const label =
    asked !== undefined
      ? `${asked ? methodName(asked) : "default"}…`
      : crossing.speaker === "own" || crossing.speaker === "source"
        ? method
        : "";
  return (
    <>
      {view === "frames" && label && <span className="cell-method">{label}</span>}
      {view === "frames" && origin && asked === undefined && (
        <span className="cell-origin num" {...tip(apart ? `${apart} of the imported framing` : origin)}>
          {apartText(crossing.imported, true) ?? "imported"}
        </span>
      )}
      <div className="cell-drawing">
        {view === "frames" ? (
          <CrossingDrawing
            crossing={crossing}
            frame={frame}
            width={width - 20}
            height={64}
            picture={picture}
          />
        ) : (
          cadence && <CadenceDrawing cadence={cadence} width={width - 20} height={54} />
        )}
      </div>
      {view === "frames" ? (
        <div className="cell-numbers num">
          <b>{size}</b>
          <span className={bars ? "mid bars" : "mid"}>{bars ?? kept}</span>
          <SeverityMark severity={crossing.severity} accepted={crossing.accepted > 0} />
        </div>
      ) : (
        <div className="cell-numbers">
          <span className={cadence?.mixed ? "words bars" : "words"} {...tip(cadence?.words)}>
            {cadence?.words ?? "rate unknown"}
          </span>
          <SeverityMark
            severity={cadence?.mixed || crossing.findings.includes("interlaced") ? "caution" : null}
          />
        </div>
      )}
    </>
  );
}

interface HeadProps {
  source: Source;
  width: number;
  here: boolean;
  id: string;
  row: number;
  onClick: (row: number, column: number, event: MouseEvent) => void;
}

export const SourceHead = memo(function SourceHead({ source, width, here, id, row, onClick }: HeadProps) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys
    <div
      id={id}
      className="board-source"
      role="rowheader"
      aria-colindex={1}
      data-here={here}
      style={{ width }}
      onClick={(event) => onClick(row, -1, event)}
    >
      <SourceWords source={source} />
    </div>
  );
});

/** What a source is, beside its row. */
export function SourceWords({ source }: { source: Source }) {
  const { name, geometry, scan, method, playback, projection, view } = source.values;
  const traits = [
    method && `${methodName(method)} for the row`,
    geometry.squeeze !== "1" && `${geometry.squeeze}× squeeze`,
    geometry.pixel_aspect !== "1" && `${geometry.pixel_aspect} pixels`,
    geometry.rotation !== 0 && `rotated ${geometry.rotation}°`,
    scan === "interlaced" && "interlaced",
    projection === "sphere" && "sphere",
    view && `view, ${short(Number(view.fov), 1)}° wide`,
    playback === "every_frame" && "plays every frame",
  ].filter(Boolean);
  return (
    <>
      <b {...tip(name)}>{name}</b>
      <span className="num d-block">
        {raster(geometry.raster)}
        {source.values.rate ? <span className="quiet"> {source.values.rate} fps</span> : null}
      </span>
      <span className="quiet d-block small text-truncate" {...tip(traits.join(" · "))}>
        {traits.join(" · ") || " "}
      </span>
      <span className="num text-blue">shows {ratio(source.shape.upright.ratio.value)}</span>
    </>
  );
}
