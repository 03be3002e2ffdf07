import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { api, type ProofState, settled } from "../../api/client";
import { proofQuery } from "../../api/queries";
import { SeverityMark } from "../../drawing/marks";
import { count, short } from "../../drawing/numbers";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { ScreenHead } from "../../shell/ScreenHead";
import { useOnce } from "../../writes/useOnce";

/** Every conversion of the board carried out, small, and held against its plan. */
export default function BoardProofScreen() {
  const { project, sources, frames } = useBoard();
  const { tell } = useNotices();
  const [job, setJob] = useState<number>();
  const { data: state, error } = useQuery({ ...proofQuery(job ?? 0), enabled: job !== undefined });
  const path = { project: project.id };
  const { run: begin, pending } = useOnce(async () => {
    try {
      const begun = await settled(api.POST("/api/v1/projects/{project}/proofs", { params: { path } }));
      setJob(begun.id);
    } catch (failure) {
      tell(`Proof not started: ${failureText(failure)}`);
    }
  });
  const stop = () => {
    if (job === undefined) return;
    const stopped = settled(api.DELETE("/api/v1/proofs/{proof}", { params: { path: { proof: job } } }));
    stopped.catch((failure) => tell(`Not stopped: ${failureText(failure)}`));
  };
  const going = state?.state === "waiting" || state?.state === "working";
  const all = sources.length * frames.length;
  return (
    <main className="page" id="main">
      <ScreenHead
        title="Proof of the board"
        window={`Proof of ${project.values.name}`}
        up={{ to: `/projects/${project.id}/board`, name: "Board" }}
        note="every conversion carried out on the chart of the test camera, and measured"
      >
        {going ? (
          <Button onClick={stop}>Stop</Button>
        ) : (
          <Button variant="ink" disabled={all === 0} aria-disabled={pending} onClick={begin}>
            {state ? "Prove again" : `Prove ${count(all, "conversion")}`}
          </Button>
        )}
      </ScreenHead>
      {error && <Notice role="alert">{failureText(error)}</Notice>}
      <section className="sheet board-proof" aria-label="What came out">
        <div className="scroll px-3 py-2" role="status">
          {!state && (
            <p>
              Each source takes the chart as it would take it: squeezed, bordered, turned. Its plan is carried
              out at about 960 pixels, and three things are measured in what comes out: black at the sides,
              where the circle lies and how round it is, and whether the gray steps stand in their places,
              neither turned nor mirrored. Nothing should differ from the plans; if something does, it is a
              fault of this program.
            </p>
          )}
          {state && <Outcome state={state} />}
        </div>
      </section>
    </main>
  );
}

function Outcome({ state }: { state: ProofState }) {
  const { project } = useBoard();
  const { result } = state;
  if (state.state === "waiting") return <p>Waiting: {count(state.before, "other proof")} first.</p>;
  if (state.state === "working")
    return (
      <p className="reading-progress">
        <progress value={state.done} max={state.all} aria-label="Progress of the proof" />
        <span className="num">
          {state.done} of {state.all}
        </span>
      </p>
    );
  if (state.state === "stopped")
    return (
      <p className="quiet">
        Stopped after {state.done} of {state.all}.
      </p>
    );
  if (!result) return <Notice slim>The proof failed: {state.error}</Notice>;
  const rings = result.conversions.map(({ less_round }) => less_round).filter((apart) => apart != null);
  return (
    <>
      <p className="verdict">
        <SeverityMark severity={result.differs.length > 0 ? "stop" : null} />{" "}
        {result.differs.length === 0
          ? `All ${count(result.conversions.length, "conversion")} come out as planned.`
          : `${count(result.differs.length, "conversion")} of ${result.conversions.length} differ from the plan.`}
      </p>
      <p className="quiet">
        The circle could be measured in {rings.length} of them. It is off its planned roundness by at most{" "}
        <span className="num">{short(Math.max(0, ...rings), 2)} %</span>.
      </p>
      <ul>
        {result.differs.map(({ source, frame, conversion, what }) => (
          <li key={`${source} ${frame}`}>
            <Link to={`/projects/${project.id}/board/${source}/${frame}`}>{conversion}</Link>{" "}
            <span className="quiet">{what.join("; ")}</span>
          </li>
        ))}
      </ul>
      {result.conversions.length <= MOST_SHOWN && <Matrix result={result} />}
    </>
  );
}

/** Larger boards are told by what differs. */
const MOST_SHOWN = 1_000;

/** Each conversion with what was measured of its circle. */
function Matrix({ result }: { result: NonNullable<ProofState["result"]> }) {
  const { project, sources, frames } = useBoard();
  const key = (source: number, frame: number) => `${source}/${frame}`;
  const measured = new Map(result.conversions.map((each) => [key(each.source, each.frame), each.less_round]));
  const differing = new Set(result.differs.map(({ source, frame }) => key(source, frame)));
  return (
    <table className="readings">
      <caption>circle off its planned roundness, percent</caption>
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">source</span>
          </th>
          {frames.map(({ id, values }) => (
            <th key={id} scope="col">
              {values.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {sources.map(({ id: source, values }) => (
          <tr key={source}>
            <th scope="row">{values.name}</th>
            {frames.map(({ id: frame }) => {
              const at = key(source, frame);
              const apart = measured.get(at);
              return (
                <td key={frame} className="num">
                  {measured.has(at) && (
                    <Link to={`/projects/${project.id}/board/${at}/proof`}>
                      {apart == null ? "–" : short(apart, 2)}
                    </Link>
                  )}{" "}
                  <SeverityMark severity={differing.has(at) ? "stop" : null} />
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
