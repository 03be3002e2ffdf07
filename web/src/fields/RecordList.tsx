import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type MouseEvent, type ReactNode, useEffect, useState } from "react";
import { Table } from "react-bootstrap";
import { useRoom } from "../drawing/useRoom";

interface Props<R> {
  label: string;
  heads: ReactNode;
  columns: number;
  records: readonly R[];
  height: number;
  here: number;
  isPicked: (record: R) => boolean;
  onRowClick: (id: number, event: MouseEvent) => void;
  onKeyDown: (event: KeyboardEvent, page: number) => boolean;
  cells: (record: R) => ReactNode;
  empty?: ReactNode;
}

/** A list of which only the visible rows are drawn; one row is at hand, several may be picked. */
export function RecordList<R extends { id: number }>(props: Props<R>) {
  const { label, heads, columns, records, height, here, isPicked, onRowClick, onKeyDown, cells, empty } =
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
  // The keys are the list's from the start, unless a new record is being described.
  const [takesKeys] = useState(here >= 0);
  useEffect(() => {
    if (takesKeys) scroller.current?.focus({ preventScroll: true });
  }, [scroller, takesKeys]);
  const items = rows.getVirtualItems();
  const before = items[0]?.start ?? 0;
  const after = rows.getTotalSize() - (items.at(-1)?.end ?? 0);
  const page = Math.max(1, Math.floor(room.height / height) - 2);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the table inside is the grid; its scroller takes the keys
    <div
      className="scroll listed"
      ref={scroller}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the list takes the keys
      tabIndex={0}
      data-list={label}
      onKeyDown={(event) => onKeyDown(event, page)}
    >
      <Table
        className="register"
        hover
        role="grid"
        aria-label={label}
        aria-multiselectable
        aria-rowcount={records.length + 1}
      >
        <thead>
          <tr>{heads}</tr>
        </thead>
        <tbody>
          {before > 0 && <Gap height={before} columns={columns} />}
          {items.map(({ index }) => {
            const record = records[index];
            return (
              record && (
                <tr
                  key={record.id}
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
