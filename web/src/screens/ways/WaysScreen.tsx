import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { Form, Table } from "react-bootstrap";
import { useSearchParams } from "react-router";
import type { Exact, Frame, Source, Ways } from "../../api/client";
import { waysQuery } from "../../api/queries";
import { Silhouette } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { count, fraction, percent, raster, short } from "../../drawing/numbers";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { Fixed } from "../../people/may";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { WayDrawing } from "./WayDrawing";

/** Through which working frames pictures reach the deliveries, and what is lost on the way. */
export default function WaysScreen() {
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
    <main className="page" id="main">
      <ScreenHead
        title="Working frames"
        up={{ to: `/projects/${project.id}/deliveries`, name: "Deliveries" }}
        note="intermediate frames on the way to a delivery, and the detail they cost"
        beside={
          ways && (
            <span className={`tally ${losing > 0 ? "caution" : "ok"}`}>
              <SeverityMark severity={losing > 0 ? "caution" : null} />
              {losing === 0
                ? "no detail lost"
                : losing === 1
                  ? "1 frame loses detail"
                  : `${losing} frames lose detail`}
            </span>
          )
        }
      >
        <span className="inline-choice">
          drawn for{" "}
          <Form.Select
            size="sm"
            value={source?.id ?? ""}
            onChange={(event) => choose(event.target.value)}
            aria-label="Source"
          >
            {sources.map(({ id, values }) => (
              <option key={id} value={id}>
                {values.name}
              </option>
            ))}
          </Form.Select>
        </span>
      </ScreenHead>
      {error && <Notice role="alert">{failureText(error)}</Notice>}
      {ways && source && (
        <div className="ways">
          <section className="sheet" aria-label="Routes">
            <div className="sheet-head">
              <h2>{source.values.name}</h2>
              <small>the thicker the line, the more horizontal detail of the source is left</small>
            </div>
            <WayDrawing ways={ways} frames={frames} source={source} row={row} />
          </section>
          <section className="sheet" aria-label="Deliveries and their routes">
            <div className="scroll">
              <WayTable ways={ways} frames={frames} row={row} sources={sources} onSend={send} />
            </div>
          </section>
          <Proxies source={source} proxies={ways.proxies[row]} />
        </div>
      )}
      {ways && !source && (
        <p className="quiet p-3">No sources yet. Add footage to see its route to each delivery.</p>
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
          <th>made from</th>
          <th className="text-end">detail left</th>
          <th className="text-end">from source</th>
          <th>sources losing detail</th>
        </tr>
      </thead>
      <tbody>
        {ways.frames.map((way) => {
          const frame = byId.get(way.frame);
          const here = way.sources[row];
          const lose = way.sources.filter(({ detour }) => detour);
          const lacking = way.sources.filter(({ lacks }) => lacks !== null && lacks !== undefined);
          const lacksIn = [...new Set(lacking.map(({ lacks }) => byId.get(lacks ?? 0)?.values.name))];
          const names = lose.map(({ source }) => sources.find(({ id }) => id === source)?.values.name);
          if (!frame) return null;
          return (
            <tr key={way.frame}>
              <td className="ps-3">
                <Silhouette frame={frame} width={32} height={24} />
              </td>
              <td>
                <b>{frame.values.name}</b>
                {way.works && <span className="quiet small"> · working frame</span>}
              </td>
              <td>
                <Fixed may="plan">
                  <Form.Select
                    size="sm"
                    aria-label={`${frame.values.name} is made from`}
                    value={frame.values.through ?? ""}
                    onChange={(event) => onSend(frame.id, event.target.value)}
                  >
                    <option value="">source</option>
                    {frames
                      .filter(({ id }) => id !== frame.id)
                      .map(({ id, values }) => (
                        <option key={id} value={id}>
                          {values.name}
                        </option>
                      ))}
                    {way.broken && <option value={frame.values.through ?? ""}>a deleted frame</option>}
                  </Form.Select>
                </Fixed>
              </td>
              <td className="num text-end">{here && axes(here.detail)}</td>
              <td className="num text-end quiet">{here && axes(here.direct)}</td>
              <td>
                {lose.length === 0 ? (
                  <span className="quiet">none</span>
                ) : (
                  <span className="text-caution" {...tip(names.join(", "))}>
                    <SeverityMark severity="caution" /> {lose.length} of {way.sources.length}
                  </span>
                )}
                {lacking.length > 0 && (
                  <span
                    className="quiet d-block small"
                    {...tip(
                      `${lacksIn.join(", ")}: cuts picture of ${count(lacking.length, "source")} that this frame shows`,
                    )}
                  >
                    {lacking.length} of {way.sources.length} lose picture
                  </span>
                )}
                {way.broken && (
                  <span className="text-caution d-block small">made from a frame that was deleted</span>
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
          of {raster(source.values.geometry.raster)} stored; on a proxy of another shape, every framing is off
        </small>
      </div>
      <div className="scroll">
        <Table className="register">
          <thead>
            <tr>
              <th className="ps-3">size</th>
              <th className="text-end">exact</th>
              <th className="text-end">even sides</th>
              <th>shape</th>
            </tr>
          </thead>
          <tbody>
            {proxies?.sizes.map((size) => (
              <tr key={size.n}>
                <td className="num ps-3">1/{size.n}</td>
                <td
                  className="num text-end quiet"
                  {...tip(size.exact.map(fraction).filter(Boolean).join(", "))}
                >
                  {size.exact.map(({ value }) => short(value, 2)).join("×")}
                </td>
                <td className="num text-end">{raster(size.frame)}</td>
                <td>
                  {size.true ? (
                    <>
                      <SeverityMark severity={null} /> same
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
                largest of the same shape
              </td>
              <td className="num text-end">{largest ? raster(largest) : "none"}</td>
              <td>
                {largest && (
                  <>
                    <SeverityMark severity={null} /> same
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
