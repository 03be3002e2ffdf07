import type { VirtualItem } from "@tanstack/react-virtual";
import { memo } from "react";
import type { Board } from "../../api/client";
import { crossingAt } from "../../api/queries";
import { type Filters, isFiltering, matches } from "./arrange";
import { type Asking, Cell, type CellActions, SourceHead, type View } from "./Cell";
import { key } from "./useBoardPlace";

interface Props extends CellActions {
  board: Board;
  /** The place of its source among all, among those that are shown, and among all lines. */
  place: number;
  row: number;
  line: number;
  top: number;
  height: number;
  width: number;
  /** How much of that is the source's. */
  sourceWidth: number;
  /** The columns that are drawn. */
  columns: readonly VirtualItem[];
  /** The column that is at hand in it; -1 is its head. */
  here: number | undefined;
  picked: ReadonlySet<string>;
  filters: Filters;
  view: View;
  asking: Asking | undefined;
}

/** A source with its conversions. Scrolling redraws none that stays. */
export const Row = memo(function Row(props: Props) {
  const { board, place, row, line, top, height, width, sourceWidth, columns, here } = props;
  const { picked, filters, view, asking, onClick, onOpen } = props;
  const source = board.sources[place];
  if (!source) return null;
  const filtering = isFiltering(filters);
  return (
    <div className="board-row" role="row" aria-rowindex={line + 2} style={{ top, height, width }}>
      <SourceHead
        id={`source-${row}`}
        source={source}
        width={sourceWidth}
        row={row}
        here={here !== undefined && here < 0}
        onClick={onClick}
      />
      {columns.map(({ index, start, size }) => {
        const frame = board.frames[index];
        const crossing = crossingAt(board, place, index);
        if (!frame || !crossing) return null;
        const pair = key(source.id, frame.id);
        return (
          <Cell
            key={frame.id}
            id={`cell-${row}-${index}`}
            row={row}
            column={index}
            crossing={crossing}
            source={source}
            frame={frame}
            left={start}
            width={size}
            here={here === index}
            picked={picked.has(pair)}
            faded={filtering && !matches(crossing, filters)}
            view={view}
            asked={asking?.pair === pair ? asking.method : undefined}
            onClick={onClick}
            onOpen={onOpen}
          />
        );
      })}
    </div>
  );
});
