import { useVirtualizer } from "@tanstack/react-virtual";
import { type MouseEvent, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Board } from "../../api/client";
import { crossingAt } from "../../api/queries";
import { Silhouette } from "../../drawing/crossing";
import { inLetters } from "../../drawing/letters";
import { count, raster } from "../../drawing/numbers";
import { useRoom } from "../../drawing/useRoom";
import { methodName } from "../../keys/methods";
import { useCommands } from "../../keys/useCommands";
import { tip } from "../../tip";
import { type Filters, isFiltering, type Line, matches } from "./arrange";
import type { Asking, View } from "./Cell";
import { Row } from "./Row";
import { key, type Place, type useBoardPlace } from "./useBoardPlace";

const ROW = inLetters(98);
const HEADING = inLetters(30);
const HEAD = inLetters(62);
const NARROWEST_COLUMN = inLetters(142);

interface Props {
  board: Board;
  lines: readonly Line[];
  place: ReturnType<typeof useBoardPlace>;
  filters: Filters;
  view: View;
  asking: Asking | undefined;
  /** Opens the conversion at hand; false where there is none. */
  onOpen: () => boolean;
}

/** Sources down, frames across. Only what is visible is drawn. */
export function Grid({ board, lines, place, filters, view, asking, onOpen }: Props) {
  const { sources, frames } = board;
  const { row, column, picked } = place;
  const [scroller, room] = useRoom<HTMLDivElement>({ width: 1240, height: 600 });
  const sourceWidth = inLetters(room.width < inLetters(600) ? 118 : 186);
  const columnWidth = Math.max(NARROWEST_COLUMN, Math.floor((room.width - sourceWidth) / frames.length));
  const [focused, setFocused] = useState(false);
  // The place of a line among the sources alone, and back.
  const [rowOfLine, lineOfRow] = useMemo(() => {
    const ofLine: number[] = [];
    const ofRow: number[] = [];
    lines.forEach((line, at) => {
      ofLine.push("row" in line ? ofRow.length : -1);
      if ("row" in line) ofRow.push(at);
    });
    return [ofLine, ofRow];
  }, [lines]);
  const sizeOf = useCallback((at: number) => (lines[at] && "row" in lines[at] ? ROW : HEADING), [lines]);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: sizeOf,
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are measured again when there are others
  useEffect(() => rows.measure(), [sizeOf]);
  // It follows who moves; what is read anew or filtered scrolls nothing.
  const lineNow = useRef(lineOfRow);
  lineNow.current = lineOfRow;
  useEffect(() => {
    const line = lineNow.current[Math.max(0, row)];
    if (line !== undefined) rows.scrollToIndex(line);
    columns.scrollToIndex(Math.max(0, column));
  }, [rows, columns, row, column]);

  const filtering = isFiltering(filters);
  const crossingOf = (r: number, c: number) => {
    const line = lines[lineOfRow[r] ?? -1];
    return line && "row" in line ? crossingAt(board, line.row, c) : undefined;
  };
  const allowed = (r: number, c: number) => {
    const crossing = crossingOf(r, c);
    return crossing !== undefined && (!filtering || matches(crossing, filters));
  };
  // The cells keep the same functions, so that a move redraws two of them and not all.
  const actions = useRef({ place, onOpen, allowed });
  actions.current = { place, onOpen, allowed };
  const clickCell = useCallback((toRow: number, toColumn: number, event: MouseEvent) => {
    const { place, allowed } = actions.current;
    const to = { row: toRow, column: toColumn };
    if (event.shiftKey) place.extend(to, allowed);
    else if ((event.ctrlKey || event.metaKey) && toRow >= 0 && toColumn >= 0) place.toggle(to);
    else place.select(to);
  }, []);
  const openCell = useCallback(() => {
    actions.current.onOpen();
  }, []);

  const page = Math.max(1, Math.floor((room.height - HEAD) / ROW) - 1);
  const last = lineOfRow.length - 1;
  /** All that is shown and asked for. */
  const wanted = () => {
    const pairs = lineOfRow.flatMap((_, r) =>
      frames.flatMap((_, c) => {
        const crossing = allowed(r, c) && crossingOf(r, c);
        return crossing ? [key(crossing.source, crossing.frame)] : [];
      }),
    );
    return new Set(pairs);
  };
  const stepOf = (key: string): Place => {
    const steps: Record<string, [number, number]> = {
      ArrowUp: [row - 1, column],
      ArrowDown: [row + 1, column],
      ArrowLeft: [row, column - 1],
      ArrowRight: [row, column + 1],
      Home: [row, 0],
      End: [row, frames.length - 1],
      PageUp: [Math.max(Math.min(row, 0), row - page), column],
      PageDown: [Math.min(last, row + page), column],
      "Control+Home": [0, 0],
      "Control+End": [last, frames.length - 1],
    };
    const [toRow, toColumn] = steps[key.replace("Shift+", "")] ?? [row, column];
    return { row: toRow, column: toColumn };
  };
  // Who hears the page and does not see it is told of the cell by the grid.
  const focus = () => scroller.current?.focus({ preventScroll: true });
  useCommands("screen", {
    move: (key) => {
      focus();
      place.select(stepOf(key));
    },
    extend: (key) => {
      focus();
      const to = stepOf(key);
      place.extend({ row: Math.max(0, to.row), column: Math.max(0, to.column) }, allowed);
    },
    selectAll: () => {
      focus();
      place.select({ row: 0, column: 0 });
      place.setPicked(wanted());
    },
    back: () => {
      if (picked.size === 0) return false;
      place.setPicked(new Set());
      return true;
    },
    open: () => onOpen(),
  });
  const width = sourceWidth + columns.getTotalSize();
  const active =
    row < 0 && column < 0
      ? "corner"
      : row < 0
        ? `head-${column}`
        : column < 0
          ? `source-${row}`
          : `cell-${row}-${column}`;
  return (
    <div
      ref={scroller}
      className="board"
      role="grid"
      aria-label="Conversions: sources down, frames across"
      aria-multiselectable
      aria-rowcount={lines.length + 1}
      aria-colcount={frames.length + 1}
      aria-activedescendant={active}
      tabIndex={0}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      data-focused={focused}
    >
      <div className="board-grid" style={{ width, height: HEAD + rows.getTotalSize() }}>
        <div className="board-head" role="row" aria-rowindex={1} style={{ height: HEAD, width }}>
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys */}
          <div
            id="corner"
            className="board-corner"
            role="columnheader"
            aria-colindex={1}
            data-here={active === "corner"}
            style={{ width: sourceWidth }}
            onClick={(event) => clickCell(-1, -1, event)}
          >
            <span className="w-100">
              board: <b>{methodName(board.project.values.method)}</b>
            </span>
            <span>source ↓</span>
            <span>frame →</span>
          </div>
          {columns.getVirtualItems().map(({ index, start, size }) => {
            const frame = frames[index];
            const { method } = frame?.values ?? {};
            return (
              frame && (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys
                <div
                  key={frame.id}
                  id={`head-${index}`}
                  className="board-frame"
                  role="columnheader"
                  aria-colindex={index + 2}
                  data-here={active === `head-${index}`}
                  style={{ left: start, width: size }}
                  onClick={(event) => clickCell(-1, index, event)}
                >
                  <b {...tip(frame.values.name)}>{frame.values.name}</b>
                  <Silhouette frame={frame} width={32} height={28} />
                  <div>
                    <span className="num quiet">{raster(frame.values.geometry.raster)}</span>
                    <span className="quiet d-block">
                      {view === "rates"
                        ? frame.values.rate
                          ? `at ${frame.values.rate}`
                          : "rate open"
                        : method
                          ? methodName(method)
                          : "default"}
                    </span>
                  </div>
                </div>
              )
            );
          })}
        </div>
        {rows.getVirtualItems().map(({ index, start, size }) => {
          const line = lines[index];
          if (!line) return null;
          if (!("row" in line)) {
            return (
              <div
                key={`heading ${line.heading}`}
                className="board-row heading"
                role="row"
                aria-rowindex={index + 2}
                style={{ top: start, height: size, width }}
              >
                <div role="rowheader" className="heading-words">
                  <b className="num">{line.heading}</b>
                  <span className="quiet ms-2">{count(line.sources, "source")}</span>
                </div>
              </div>
            );
          }
          const at = rowOfLine[index] ?? 0;
          return (
            <Row
              key={sources[line.row]?.id}
              board={board}
              place={line.row}
              row={at}
              line={index}
              top={start}
              height={size}
              width={width}
              sourceWidth={sourceWidth}
              columns={columns.getVirtualItems()}
              here={at === row ? column : undefined}
              picked={picked}
              filters={filters}
              view={view}
              asking={asking}
              onClick={clickCell}
              onOpen={openCell}
            />
          );
        })}
      </div>
    </div>
  );
}
