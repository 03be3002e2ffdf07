import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Board, Crossing, Frame, Method, Source } from "../../api/client";
import { crossingAt } from "../../api/queries";
import { CrossingDrawing, Silhouette } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { count, raster, ratio, short } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";
import { FOLLOW_KEY, METHODS, methodName } from "../../shell/methods";
import { useBoard } from "../../shell/ProjectLayout";
import { useAddressNote } from "../../shell/useAddressNote";
import { MethodButtons } from "./MethodButtons";
import { barsText, sizeText, tally } from "./summary";
import { plainFraming, useChooseFraming } from "./useChooseFraming";

const ROW = 98;
const HEAD = 62;
const NARROWEST_COLUMN = 142;

export function BoardScreen() {
  const board = useBoard();
  const { project, sources, frames } = board;
  const [[row, column], select, place] = useSelection(board);
  const choose = useChooseFraming(project.id);
  const navigate = useNavigate();
  const crossing = crossingAt(board, row, column);
  const counts = useMemo(() => tally(board.crossings), [board.crossings]);

  const setMethod = (method: Method | null) => {
    const [source, frame] = [sources[row], frames[column]];
    if (!crossing || !source || !frame || (method === null && !crossing.own)) return;
    const what = `${source.values.name} into ${frame.values.name}`;
    const key = { source: source.id, frame: frame.id };
    choose(key, crossing.version, method === null ? null : plainFraming(method), what);
  };
  const open = () => {
    if (!crossing) return;
    place();
    navigate(`/projects/${project.id}/board/${crossing.source}/${crossing.frame}`);
  };

  return (
    <main className="page">
      <div className="page-head">
        <h1>Conversion board</h1>
        <span className="quiet">
          {count(sources.length, "source")} into {count(frames.length, "frame")},{" "}
          {count(board.crossings.length, "conversion")}
        </span>
        <span className="tally ok">
          <SeverityMark severity={null} /> {counts.clean} clean
        </span>
        <span className="tally caution">
          <SeverityMark severity="caution" /> {counts.caution} to look at
        </span>
        <span className="tally stop">
          <SeverityMark severity="stop" /> {counts.stop} stop
        </span>
        <div className="end">
          <MethodButtons
            method={crossing?.method}
            own={crossing?.own ?? false}
            disabled={!crossing}
            onMethod={setMethod}
          />
        </div>
      </div>
      {board.crossings.length > 0 ? (
        <Grid board={board} at={[row, column]} onSelect={select} onMethod={setMethod} onOpen={open} />
      ) : (
        <div className="notice">
          <span>A board needs at least one source and one frame.</span>
          {sources.length === 0 && <Link to={`/projects/${project.id}/footage`}>Add footage</Link>}
          {frames.length === 0 && <Link to={`/projects/${project.id}/deliveries`}>Add a frame</Link>}
        </div>
      )}
      {crossing && <Legend onOpen={open} />}
    </main>
  );
}

/** Which crossing is chosen. It follows every key at once; the address notes it. */
function useSelection({ sources, frames }: Board) {
  const [search] = useSearchParams();
  const find = (list: { id: number }[], name: string) =>
    Math.max(
      0,
      list.findIndex((each) => String(each.id) === search.get(name)),
    );
  const [at, setAt] = useState<[number, number]>(() => [find(sources, "source"), find(frames, "frame")]);
  const within = (index: number, list: unknown[]) => Math.max(0, Math.min(index, list.length - 1));
  // Sources and frames may have gone since.
  const [row, column] = [within(at[0], sources), within(at[1], frames)];
  const select = (toRow: number, toColumn: number) =>
    setAt([within(toRow, sources), within(toColumn, frames)]);
  const [source, frame] = [sources[row], frames[column]];
  const place = useAddressNote(source && frame ? `?source=${source.id}&frame=${frame.id}` : "");
  return [[row, column] as [number, number], select, place] as const;
}

interface GridProps {
  board: Board;
  at: [number, number];
  onSelect: (row: number, column: number) => void;
  onMethod: (method: Method | null) => void;
  onOpen: () => void;
}

/** Sources down, frames across. Only what is visible is drawn. */
function Grid({ board, at: [row, column], onSelect, onMethod, onOpen }: GridProps) {
  const { sources, frames } = board;
  const [scroller, room] = useRoom<HTMLDivElement>({ width: 1240, height: 600 });
  const sourceWidth = room.width < 600 ? 118 : 186;
  const columnWidth = Math.max(NARROWEST_COLUMN, Math.floor((room.width - sourceWidth) / frames.length));
  const [focused, setFocused] = useState(false);
  const rows = useVirtualizer({
    count: sources.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 3,
    useFlushSync: false,
    scrollPaddingStart: HEAD,
    scrollMargin: HEAD,
  });
  const columns = useVirtualizer({
    horizontal: true,
    count: frames.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => columnWidth,
    overscan: 1,
    useFlushSync: false,
    scrollPaddingStart: sourceWidth,
    scrollMargin: sourceWidth,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the columns are measured again when their width changes
  useEffect(() => columns.measure(), [columnWidth]);
  useEffect(() => {
    rows.scrollToIndex(row);
    columns.scrollToIndex(column);
  }, [rows, columns, row, column]);
  useEffect(() => scroller.current?.focus({ preventScroll: true }), [scroller]);

  // The cells keep the same functions, so that a move redraws two of them and not all.
  const actions = useRef({ onSelect, onOpen });
  actions.current = { onSelect, onOpen };
  const selectCell = useCallback((...to: [number, number]) => actions.current.onSelect(...to), []);
  const openCell = useCallback(() => actions.current.onOpen(), []);

  const page = Math.max(1, Math.floor((room.height - HEAD) / ROW) - 1);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const move: Record<string, [number, number]> = {
      ArrowUp: [row - 1, column],
      ArrowDown: [row + 1, column],
      ArrowLeft: [row, column - 1],
      ArrowRight: [row, column + 1],
      Home: [row, 0],
      End: [row, frames.length - 1],
      PageUp: [row - page, column],
      PageDown: [row + page, column],
    };
    const to = move[event.key];
    const key = event.key.toLowerCase();
    const method = METHODS.find((each) => each.key === key);
    if (to) onSelect(...to);
    else if (event.key === "Enter") onOpen();
    else if (method) onMethod(method.id);
    else if (key === FOLLOW_KEY) onMethod(null);
    else return;
    event.preventDefault();
  };
  const width = sourceWidth + columns.getTotalSize();
  return (
    <div
      ref={scroller}
      className="board"
      role="grid"
      aria-label="Conversions: sources down, frames across"
      aria-rowcount={sources.length + 1}
      aria-colcount={frames.length + 1}
      aria-activedescendant={`cell-${row}-${column}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      data-focused={focused}
    >
      <div className="board-grid" style={{ width, height: HEAD + rows.getTotalSize() }}>
        <div className="board-head" role="row" aria-rowindex={1} style={{ height: HEAD, width }}>
          <div className="board-corner" role="columnheader" aria-colindex={1} style={{ width: sourceWidth }}>
            <span>source ↓</span>
            <span>frame →</span>
          </div>
          {columns.getVirtualItems().map(({ index, start, size }) => {
            const frame = frames[index];
            return (
              frame && (
                <div
                  key={frame.id}
                  className="board-frame"
                  role="columnheader"
                  aria-colindex={index + 2}
                  style={{ left: start, width: size }}
                >
                  <Silhouette frame={frame} width={32} height={32} />
                  <div>
                    <b title={frame.values.name}>{frame.values.name}</b>
                    <span className="num quiet">{raster(frame.values.geometry.raster)}</span>
                    <span className="quiet d-block">{methodName(frame.values.default_method)}</span>
                  </div>
                </div>
              )
            );
          })}
        </div>
        {rows.getVirtualItems().map(({ index, start, size }) => {
          const source = sources[index];
          return (
            source && (
              <div
                key={source.id}
                className="board-row"
                role="row"
                aria-rowindex={index + 2}
                style={{ top: start, height: size, width }}
              >
                <SourceHead source={source} width={sourceWidth} />
                {columns.getVirtualItems().map((item) => {
                  const frame = frames[item.index];
                  const crossing = crossingAt(board, index, item.index);
                  return (
                    frame &&
                    crossing && (
                      <Cell
                        key={frame.id}
                        id={`cell-${index}-${item.index}`}
                        row={index}
                        column={item.index}
                        crossing={crossing}
                        source={source}
                        frame={frame}
                        left={item.start}
                        width={item.size}
                        selected={index === row && item.index === column}
                        onSelect={selectCell}
                        onOpen={openCell}
                      />
                    )
                  );
                })}
              </div>
            )
          );
        })}
      </div>
    </div>
  );
}

const SourceHead = memo(function SourceHead({ source, width }: { source: Source; width: number }) {
  const { name, geometry, scan } = source.values;
  const traits = [
    geometry.squeeze !== "1" && `${geometry.squeeze}× squeeze`,
    geometry.pixel_aspect !== "1" && `${geometry.pixel_aspect} pixels`,
    geometry.rotation !== 0 && `turn ${geometry.rotation}°`,
    scan === "interlaced" && "interlaced",
  ].filter(Boolean);
  return (
    <div className="board-source" role="rowheader" aria-colindex={1} style={{ width }}>
      <b title={name}>{name}</b>
      <span className="num d-block">{raster(geometry.raster)}</span>
      <span className="quiet d-block small text-truncate">{traits.join(" · ") || " "}</span>
      <span className="num text-blue">shows {ratio(source.shape.upright.ratio.value)}</span>
    </div>
  );
});

interface CellProps {
  id: string;
  row: number;
  column: number;
  crossing: Crossing;
  source: Source;
  frame: Frame;
  left: number;
  width: number;
  selected: boolean;
  onSelect: (row: number, column: number) => void;
  onOpen: () => void;
}

const Cell = memo(function Cell({
  id,
  row,
  column,
  crossing,
  source,
  frame,
  left,
  width,
  selected,
  onSelect,
  onOpen,
}: CellProps) {
  const size = sizeText(crossing.native_percent);
  const bars = barsText(crossing.bars);
  const kept = `keeps ${short(crossing.kept * 100, crossing.kept < 0.1 ? 1 : 0)}%`;
  const method = methodName(crossing.method);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys
    <div
      id={id}
      className="cell"
      role="gridcell"
      aria-colindex={column + 2}
      aria-selected={selected}
      aria-label={`${source.values.name} into ${frame.values.name}: ${method}${crossing.own ? "*" : ""}, ${size}, ${bars ? `${bars}, ${kept}` : kept}`}
      data-severity={crossing.severity ?? "clean"}
      style={{ left, width }}
      onClick={() => onSelect(row, column)}
      onDoubleClick={onOpen}
    >
      {crossing.own && <span className="cell-method">{method}*</span>}
      <div className="cell-drawing">
        <CrossingDrawing crossing={crossing} frame={frame} width={width - 20} height={64} />
      </div>
      <div className="cell-numbers num">
        <b>{size}</b>
        <span className={bars ? "mid bars" : "mid"}>{bars ?? kept}</span>
        <SeverityMark severity={crossing.severity} />
      </div>
    </div>
  );
});

function Legend({ onOpen }: { onOpen: () => void }) {
  return (
    <div className="legend">
      <span>
        <svg viewBox="0 0 24 12" aria-hidden="true">
          <rect className="d-cut" x="0.5" y="0.5" width="23" height="11" />
        </svg>
        cut away
      </span>
      <span>
        <svg viewBox="0 0 24 12" aria-hidden="true">
          <rect className="d-picture" x="0.5" y="0.5" width="23" height="11" />
          <rect className="d-edge" x="0.5" y="0.5" width="23" height="11" />
        </svg>
        picture that stays
      </span>
      <span>
        <svg viewBox="0 0 24 12" aria-hidden="true">
          <rect className="d-bars" x="0.5" y="0.5" width="23" height="11" />
          <rect className="d-edge" x="0.5" y="0.5" width="23" height="11" />
        </svg>
        bars
      </span>
      <span>100% puts one stored line on one delivery line</span>
      <span>* a framing of its own</span>
      <span className="ms-auto">arrows move · ? all keys</span>
      <Button size="sm" onClick={onOpen} aria-keyshortcuts="Enter">
        Open the framing <kbd>Enter</kbd>
      </Button>
    </div>
  );
}
