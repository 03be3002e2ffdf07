import { useVirtualizer } from "@tanstack/react-virtual";
import { type MouseEvent, type ReactNode, useEffect, useId, useRef } from "react";
import { Table } from "react-bootstrap";
import { useRoom } from "../drawing/useRoom";
import type { Handlers } from "../keys/stack";
import { useCommands } from "../keys/useCommands";
import { usePrinting } from "../shell/usePrinting";

interface Props<R> {
  label: string;
  heads: ReactNode;
  columns: number;
  records: readonly R[];
  height: number;
  here: number;
  isPicked: (record: R) => boolean;
  onRowClick: (id: number, event: MouseEvent) => void;
  /** What the keys do; a page has so many rows. */
  commands: (page: number) => Handlers;
  cells: (record: R) => ReactNode;
  empty?: ReactNode | undefined;
}

/** A list of which only the visible rows are drawn, on paper all; one row is at hand, several may be picked. */
export function RecordList<R extends { id: number }>(props: Props<R>) {
  const { label, heads, columns, records, height, here, isPicked, onRowClick, commands, cells, empty } =
    props;
  const [scroller, room] = useRoom<HTMLDivElement>({ width: 600, height: 600 });
  const rows = useVirtualizer({
    count: records.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 6,
    useFlushSync: false,
    scrollPaddingStart: 30,
  });
  useEffect(() => {
    if (here >= 0) rows.scrollToIndex(here);
  }, [rows, here]);
  const printing = usePrinting();
  const seen = rows.getVirtualItems();
  const items = printing ? [...records.keys()] : seen.map(({ index }) => index);
  const before = printing ? 0 : (seen[0]?.start ?? 0);
  const after = printing ? 0 : rows.getTotalSize() - (seen.at(-1)?.end ?? 0);
  const page = Math.max(1, Math.floor(room.height / height) - 2);
  const grid = useRef<HTMLTableElement>(null);
  const id = useId();
  // Who hears the page and does not see it is told of the row by the grid.
  const focus = () => grid.current?.focus({ preventScroll: true });
  // After a delete the focus goes to the list, and not nowhere.
  const many = useRef(records.length);
  useEffect(() => {
    if (records.length < many.current && document.activeElement === document.body)
      grid.current?.focus({ preventScroll: true });
    many.current = records.length;
  }, [records.length]);
  const told = Object.entries(commands(page)).map(([command, handler]) => [
    command,
    (key: string) => {
      const taken = handler?.(key);
      if (taken !== false) focus();
      return taken;
    },
  ]);
  useCommands("screen", Object.fromEntries(told));
  return (
    <div className="scroll listed" ref={scroller} data-list={label}>
      <Table
        ref={grid}
        className="register"
        hover
        role="grid"
        tabIndex={0}
        aria-label={label}
        aria-multiselectable
        aria-rowcount={records.length + 1}
        aria-activedescendant={records[here] ? `${id}${records[here].id}` : undefined}
      >
        <thead>
          <tr>{heads}</tr>
        </thead>
        <tbody>
          {before > 0 && <Gap height={before} columns={columns} />}
          {items.map((index) => {
            const record = records[index];
            return (
              record && (
                <tr
                  key={record.id}
                  id={`${id}${record.id}`}
                  data-id={record.id}
                  aria-rowindex={index + 2}
                  aria-selected={isPicked(record)}
                  aria-current={index === here || undefined}
                  style={{ height }}
                  onClick={(event) => onRowClick(record.id, event)}
                  onMouseDown={(event) => event.shiftKey && event.preventDefault()}
                >
                  {cells(record)}
                </tr>
              )
            );
          })}
          {after > 0 && <Gap height={after} columns={columns} />}
        </tbody>
      </Table>
      {empty}
    </div>
  );
}

/** The room of rows that are not drawn. */
function Gap({ height, columns }: { height: number; columns: number }) {
  return (
    <tr className="gap">
      <td colSpan={columns} style={{ height }} />
    </tr>
  );
}
