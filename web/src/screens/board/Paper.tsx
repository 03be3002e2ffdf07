import type { Board } from "../../api/client";
import { crossingAt } from "../../api/queries";
import { Silhouette } from "../../drawing/crossing";
import { raster } from "../../drawing/numbers";
import type { Line } from "./arrange";
import { CellParts, SourceWords, type View } from "./Cell";

/** How many frames stand beside each other on a sheet of paper. */
const ACROSS = 7;
const WIDTH = 108;

interface Props {
  board: Board;
  lines: readonly Line[];
  view: View;
}

/** The board on paper: all of it, its frames in as many tables as they need, their heads on every sheet. */
export function Paper({ board, lines, view }: Props) {
  const { sources, frames } = board;
  const tables = Array.from({ length: Math.ceil(frames.length / ACROSS) }, (_, at) => at * ACROSS);
  return tables.map((first) => {
    const some = frames.slice(first, first + ACROSS);
    return (
      <table key={first} className="board-paper">
        <thead>
          <tr>
            <th>{board.project.values.name}</th>
            {some.map((frame) => (
              <th key={frame.id} className="board-frame">
                <b>{frame.values.name}</b>
                <Silhouette frame={frame} width={32} height={28} />
                <span className="num">{raster(frame.values.geometry.raster)}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => {
            if (!("row" in line)) {
              return (
                <tr key={`heading ${line.heading}`} className="heading">
                  <th colSpan={some.length + 1}>{line.heading}</th>
                </tr>
              );
            }
            const source = sources[line.row];
            return (
              source && (
                <tr key={source.id}>
                  <th className="board-source">
                    <SourceWords source={source} />
                  </th>
                  {some.map((frame, at) => {
                    const crossing = crossingAt(board, line.row, first + at);
                    return (
                      <td key={frame.id} className="cell">
                        {crossing && (
                          <CellParts
                            crossing={crossing}
                            frame={frame}
                            width={WIDTH}
                            view={view}
                            asked={undefined}
                            picture={undefined}
                          />
                        )}
                      </td>
                    );
                  })}
                </tr>
              )
            );
          })}
        </tbody>
      </table>
    );
  });
}
