import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { Form, Table } from "react-bootstrap";
import { Link, useSearchParams } from "react-router";
import type { Exact, Frame, Source, Ways } from "../../api/client";
import { waysQuery } from "../../api/queries";
import { useEdit } from "../../api/useEdit";
import { Silhouette } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { fraction, percent, raster, short } from "../../drawing/numbers";
import { failureText } from "../../shell/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { WayDrawing } from "./WayDrawing";

/** Through which working frames pictures reach the deliveries, and what is lost on the way. */
export function WaysScreen() {
  const { project, sources, frames } = useBoard();
  const { data: ways, error } = useQuery(waysQuery(project.id));
  const [search, setSearch] = useSearchParams();
  const edit = useEdit(project.id);
  const source = sources.find(({ id }) => String(id) === search.get("source")) ?? sources[0];
  const row = source ? sources.indexOf(source) : -1;
  const choose = (id: string) => setSearch({ source: id }, { replace: true });
  const send = (frame: number, through: string) =>
    edit({ edit: "set_frames", frames: [frame], set: { through: through ? Number(through) : null } });
  const losing = ways?.frames.filter((way) => way.sources.some(({ detour }) => detour)).length ?? 0;
  return (
    <main className="page">
      <div className="page-head">
        <span>
          <Link to={`/projects/${project.id}/deliveries`}>Deliveries</Link> <span className="quiet">›</span>
        </span>
        <h1>Working frames</h1>
        <span className="quiet">through which frames pictures reach the deliveries, and what that costs</span>
        {ways && (
          <span className={`tally ${losing > 0 ? "caution" : "ok"}`}>
            <SeverityMark severity={losing > 0 ? "caution" : null} />
            {losing === 0
              ? "nothing lost"
              : losing === 1
                ? "1 frame loses detail"
                : `${losing} frames lose detail`}
          </span>
        )}
        <div className="end">
          <span className="inline-choice">
            drawn for{" "}
            <Form.Select
              size="sm"
              value={source?.id ?? ""}
              onChange={(event) => choose(event.target.value)}
              aria-label="The source that is drawn"
            >
              {sources.map(({ id, values }) => (
                <option key={id} value={id}>
                  {values.name}
                </option>
              ))}
            </Form.Select>
          </span>
        </div>
      </div>
      {error && (
        <div className="notice" role="alert">
          {failureText(error)}
        </div>
      )}
      {ways && source && (
        <div className="ways">
          <section className="sheet" aria-label="The ways">
            <div className="sheet-head">
              <h2>{source.values.name}</h2>
              <small>each line is drawn as thick as the detail that is left of the source, across</small>
            </div>
            <WayDrawing ways={ways} frames={frames} source={source} row={row} />
          </section>
          <section className="sheet" aria-label="Deliveries and their ways">
            <div className="scroll">
              <WayTable ways={ways} frames={frames} row={row} sources={sources} onSend={send} />
            </div>
          </section>
          <Proxies source={source} proxies={ways.proxies[row]} />
        </div>
      )}
      {ways && !source && (
        <p className="quiet p-3">No source yet: the ways are drawn once there is footage.</p>
      )}
    </main>
  );
}

interface TableProps {
  ways: Ways;
  frames: Frame[];
  sources: Source[];
  row: number;
  onSend: (frame: number, through: string) => void;
}

function WayTable({ ways, frames, sources, row, onSend }: TableProps) {
  const byId = useMemo(() => new Map(frames.map((frame) => [frame.id, frame])), [frames]);
  return (
    <Table className="register">
      <thead>
        <tr>
          <th className="ps-3">
            <span className="visually-hidden">shape</span>
          </th>
          <th>delivery</th>
          <th>pictures come</th>
          <th className="text-end">detail left</th>
          <th className="text-end">straight</th>
          <th>sources that lose</th>
        </tr>
      </thead>
      <tbody>
        {ways.frames.map((way) => {
          const frame = byId.get(way.frame);
          const here = way.sources[row];
          const lose = way.sources.filter(({ detour }) => detour);
          const names = lose.map(({ source }) => sources.find(({ id }) => id === source)?.values.name);
          if (!frame) return null;
          return (
            <tr key={way.frame}>
              <td className="ps-3">
                <Silhouette frame={frame} width={32} height={24} />
              </td>
              <td>
                <b>{frame.values.name}</b>
                {way.works && <span className="quiet small"> · works</span>}
              </td>
              <td>
                <Form.Select
                  size="sm"
                  aria-label={`How pictures reach ${frame.values.name}`}
                  value={frame.values.through ?? ""}
                  onChange={(event) => onSend(frame.id, event.target.value)}
                >
                  <option value="">straight</option>
                  {frames
                    .filter(({ id }) => id !== frame.id)
                    .map(({ id, values }) => (
                      <option key={id} value={id}>
                        through {values.name}
                      </option>
                    ))}
                  {way.broken && (
                    <option value={frame.values.through ?? ""}>through a frame that is gone</option>
                  )}
                </Form.Select>
              </td>
              <td className="num text-end">{here && axes(here.detail)}</td>
              <td className="num text-end quiet">{here && axes(here.direct)}</td>
              <td>
                {lose.length === 0 ? (
                  <span className="quiet">none</span>
                ) : (
                  <span className="text-caution" title={names.join(", ")}>
                    <SeverityMark severity="caution" /> {lose.length} of {way.sources.length}
                  </span>
                )}
                {way.broken && (
                  <span className="text-caution d-block small">the way is cut: a frame on it is gone</span>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}

/** Both axes, or one number where they are equal. */
function axes({ x, y }: { x: Exact; y: Exact }): string {
  return x.exact === y.exact ? `${percent(y.value)} %` : `${percent(x.value)} × ${percent(y.value)} %`;
}

/** Smaller working copies of a source, and whether they keep its shape. */
function Proxies({ source, proxies }: { source: Source; proxies: Ways["proxies"][number] | undefined }) {
  const largest = proxies?.largest_true;
  return (
    <section className="sheet" aria-label="Proxy sizes">
      <div className="sheet-head">
        <h2>Proxies</h2>
        <small>
          of {raster(source.values.geometry.raster)} stored; a proxy of another shape shifts every framing
          made on it
        </small>
      </div>
      <div className="scroll">
        <Table className="register">
          <thead>
            <tr>
              <th className="ps-3">part</th>
              <th className="text-end">exactly</th>
              <th className="text-end">on even sides</th>
              <th>shape</th>
            </tr>
          </thead>
          <tbody>
            {proxies?.sizes.map((size) => (
              <tr key={size.n}>
                <td className="num ps-3">1/{size.n}</td>
                <td
                  className="num text-end quiet"
                  title={size.exact.map(fraction).filter(Boolean).join(", ")}
                >
                  {size.exact.map(({ value }) => short(value, 2)).join("×")}
                </td>
                <td className="num text-end">{raster(size.frame)}</td>
                <td>
                  {size.true ? (
                    <>
                      <SeverityMark severity={null} /> true
                    </>
                  ) : (
                    <>
                      <SeverityMark severity="caution" />{" "}
                      <span className="num">{short(Math.abs(size.distortion.value) * 100, 3)} %</span>{" "}
                      {size.distortion.value > 0 ? "wider" : "narrower"}
                    </>
                  )}
                </td>
              </tr>
            ))}
            <tr>
              <td className="ps-3" colSpan={2}>
                largest of exactly this shape
              </td>
              <td className="num text-end">{largest ? raster(largest) : "none"}</td>
              <td>
                {largest && (
                  <>
                    <SeverityMark severity={null} /> true
                  </>
                )}
              </td>
            </tr>
          </tbody>
        </Table>
      </div>
    </section>
  );
}
