import { Link } from "react-router";
import { tip } from "../../tip";
import type { Cell, Layout, Row } from "./kinds";

export interface Order {
  by: number;
  down: boolean;
}

function compare(a: Cell | undefined, b: Cell | undefined): number {
  if (a?.sorts !== undefined && b?.sorts !== undefined) return a.sorts - b.sorts;
  return (a?.shown ?? "").localeCompare(b?.shown ?? "", "en", { numeric: true });
}

/** The rows with these words, in this order. */
export function arranged(rows: readonly Row[], words: string, order?: Order): Row[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const plain = (text: string) => text.toLowerCase().replaceAll("×", "x");
  const kept = rows.filter(({ cells }) => {
    const text = plain(cells.map(({ shown, more }) => `${shown} ${more ?? ""}`).join(" "));
    return wanted.every((word) => text.includes(plain(word)));
  });
  if (!order) return kept;
  const sorted = kept.toSorted((a, b) => compare(a.cells[order.by], b.cells[order.by]));
  return order.down ? sorted.reverse() : sorted;
}

/** The table as a spreadsheet takes it: tab-separated. */
export function asText({ columns }: Layout, rows: readonly Row[]): string {
  const line = (cells: string[]) => cells.join("\t");
  const words = ({ shown, more }: { shown: string; more?: string | undefined }) =>
    [shown, more].filter(Boolean).join(" · ");
  return [
    line(columns.map(({ name, more }) => words({ shown: name, more }))),
    ...rows.map(({ cells }) => line(cells.map(words))),
  ].join("\n");
}

interface Props {
  name: string;
  layout: Layout;
  rows: readonly Row[];
  order?: Order | undefined;
  onOrder: (order?: Order) => void;
}

/** Rows that are sorted by their heads: up, down, and as they were; where they are laid down stands below. */
export function Register({ name, layout, rows, order, onOrder }: Props) {
  const next = (by: number): Order | undefined => {
    if (order?.by !== by) return { by, down: false };
    return order.down ? undefined : { by, down: true };
  };
  const sources = [...new Set(layout.rows.flatMap(({ cells }) => cells.map(({ source }) => source)))].filter(
    (source): source is string => !!source,
  );
  return (
    <>
      <table className="table register look-up" aria-label={name}>
        <thead>
          <tr>
            {layout.columns.map((column, at) => {
              const here = order?.by === at ? order : undefined;
              return (
                <th
                  key={column.name}
                  scope="col"
                  className={column.words ? "words" : ""}
                  aria-sort={here ? (here.down ? "descending" : "ascending") : undefined}
                >
                  <button type="button" onClick={() => onOrder(next(at))}>
                    {column.name} {here && <span aria-hidden="true">{here.down ? "↓" : "↑"}</span>}
                    {column.more && <small>{column.more}</small>}
                  </button>
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ key, cells }) => (
            <tr key={key} data-row={cells[0]?.shown}>
              {cells.map((cell, at) => (
                <LookUp
                  key={layout.columns[at]?.name}
                  cell={cell}
                  words={layout.columns[at]?.words}
                  note={cell.source ? sources.indexOf(cell.source) + 1 : undefined}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {sources.length > 0 && (
        <ol className="sources">
          {sources.map((source) => (
            <li key={source}>{source}</li>
          ))}
        </ol>
      )}
    </>
  );
}

function LookUp({
  cell,
  words,
  note,
}: {
  cell: Cell;
  words?: boolean | undefined;
  note?: number | undefined;
}) {
  const { shown, more, to, best } = cell;
  const inside = (
    <>
      {best && <span {...tip("keeps most of this sensor")}>● </span>}
      {shown}
    </>
  );
  return (
    <td className={words ? "words" : "num"} data-best={best}>
      {to ? (
        <Link to={to} {...tip("On the slide rule")}>
          {inside}
        </Link>
      ) : (
        inside
      )}
      {note && <sup {...tip(cell.source)}> {note}</sup>}
      {more && <small>{more}</small>}
    </td>
  );
}
