import { useVirtualizer } from "@tanstack/react-virtual";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Board, Crossing, Frame, Source } from "../../api/client";
import { crossingAt } from "../../api/queries";
import { PicturedCrossing } from "../../drawing/crossing";
import { inLetters } from "../../drawing/letters";
import { SeverityMark } from "../../drawing/marks";
import { count, raster } from "../../drawing/numbers";
import { pageOf } from "../../manual/manual";
import { type Filters, isFiltering, type Line, matches } from "./arrange";
import { SourceWords, type View, wordsOf } from "./Cell";

const DRAWING = { width: inLetters(104), height: inLetters(58) };

/** A line of the list: a heading, a source with how many of its conversions are clean, a conversion. */
type Item =
  | { kind: "heading"; heading: string; sources: number }
  | { kind: "source"; source: Source; clean: number; unfolded: boolean }
  | { kind: "conversion"; source: Source; frame: Frame; crossing: Crossing };

interface Props {
  board: Board;
  lines: readonly Line[];
  filters: Filters;
  view: View;
}

const isClean = ({ severity }: Crossing) => severity !== "stop" && severity !== "caution";

/** The board where there is room for one conversion beside none: what is to be looked at, source by source. */
export function Glance({ board, lines, filters, view }: Props) {
  const { project, sources, frames } = board;
  const [unfolded, setUnfolded] = useState<ReadonlySet<number>>(new Set());
  const items = useMemo(() => {
    const filtering = isFiltering(filters);
    return lines.flatMap((line): Item[] => {
      if (!("row" in line)) return [{ kind: "heading", ...line }];
      const source = sources[line.row];
      if (!source) return [];
      const all = frames.flatMap((frame, at) => {
        const crossing = crossingAt(board, line.row, at);
        const isAsked = crossing && (!filtering || matches(crossing, filters));
        return isAsked ? [{ kind: "conversion" as const, source, frame, crossing }] : [];
      });
      // Who asks for some is shown them, whatever they are.
      const clean = filtering ? [] : all.filter(({ crossing }) => isClean(crossing));
      const isWhole = clean.length === 0 || unfolded.has(source.id);
      return [
        { kind: "source", source, clean: clean.length, unfolded: unfolded.has(source.id) },
        ...(isWhole ? all : all.filter(({ crossing }) => !isClean(crossing))),
      ];
    });
  }, [board, sources, frames, lines, filters, unfolded]);
  const toggle = (source: number) =>
    setUnfolded(
      (now) => new Set(now.has(source) ? [...now].filter((id) => id !== source) : [...now, source]),
    );

  const list = useRef<HTMLDivElement>(null);
  // The page scrolls, and not a part of it: fingers find no second one in it.
  const [top, setTop] = useState(0);
  useLayoutEffect(() => setTop(list.current?.offsetTop ?? 0), []);
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => list.current?.closest(".page") ?? null,
    estimateSize: (at) => inLetters(items[at]?.kind === "heading" ? 32 : 86),
    getItemKey: (at) => {
      const item = items[at];
      if (item?.kind === "conversion") return `${item.source.id} ${item.frame.id}`;
      return item?.kind === "source" ? item.source.id : `heading ${item?.heading}`;
    },
    overscan: 6,
    scrollMargin: top,
    useFlushSync: false,
  });
  return (
    <div className="glance sheet" ref={list}>
      <ul aria-label="Conversions by source" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ key, index, start }) => {
          const item = items[index];
          return (
            item && (
              <li
                key={key}
                ref={rows.measureElement}
                data-index={index}
                className={item.kind}
                style={{ top: start - top }}
              >
                {item.kind === "heading" && (
                  <>
                    <b className="num">{item.heading}</b>{" "}
                    <span className="quiet">{count(item.sources, "source")}</span>
                  </>
                )}
                {item.kind === "source" && (
                  <>
                    <div>
                      <SourceWords source={item.source} />
                    </div>
                    {item.clean > 0 && (
                      <Button size="sm" aria-expanded={item.unfolded} onClick={() => toggle(item.source.id)}>
                        <SeverityMark severity={null} /> {item.clean} clean
                      </Button>
                    )}
                  </>
                )}
                {item.kind === "conversion" && (
                  <Link to={`/projects/${project.id}/board/${item.source.id}/${item.frame.id}`}>
                    <PicturedCrossing {...item} {...DRAWING} />
                    <div>
                      <ConversionWords {...item} view={view} />
                    </div>
                    <SeverityMark
                      severity={item.crossing.severity}
                      accepted={item.crossing.accepted > 0}
                      size={14}
                    />
                  </Link>
                )}
              </li>
            )
          );
        })}
      </ul>
    </div>
  );
}

/** Where a conversion goes, how large it is there, and what was found. */
function ConversionWords({ crossing, frame, view }: { crossing: Crossing; frame: Frame; view: View }) {
  const { size, bars, kept, method, words } = wordsOf(crossing, view);
  const found = crossing.findings.map((code) => pageOf(`finding/${code}`)?.title ?? code);
  return (
    <>
      <b>{frame.values.name}</b>
      <span className="num quiet">{raster(frame.values.geometry.raster)}</span>
      {view === "rates" ? (
        <span>{words}</span>
      ) : (
        <span className="num">
          {size} {bars ? <span className="text-cut">{bars}</span> : kept}{" "}
          {crossing.speaker === "own" && <span className="quiet">{method}</span>}
        </span>
      )}
      {found.length > 0 && <small>{found.join(" · ")}</small>}
    </>
  );
}
