import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Frame, JudgedFinding, Proposal, Source } from "../../api/client";
import { proposalsQuery } from "../../api/queries";
import { keepsPictures, PicturedCrossing } from "../../drawing/crossing";
import { SeverityMark } from "../../drawing/marks";
import { rate, short } from "../../drawing/numbers";
import { barsText } from "../../drawing/summary";
import { HelpWith } from "../../manual/HelpWith";
import { For, useMay } from "../../people/may";
import { useEdit } from "../../writes/useEdit";
import type { Framing } from "./useFraming";

interface Props {
  project: number;
  source: Source;
  frame: Frame;
  framing: Framing;
}

/** What the plan says about itself, what would help, and what was accepted. */
export function Checks({ project, source, frame, framing }: Props) {
  const { shown, path, begun } = framing;
  const resting = !begun;
  const { data: proposals } = useQuery({ ...proposalsQuery(path), enabled: resting });
  const findings = shown.findings;
  const { cadence } = shown.crossing;
  // What is said of flat pictures means nothing of a sphere in a flat frame.
  const flat = !findings.some(({ code }) => code === "projection");
  return (
    <>
      <div className="sheet-head rule mt-2">
        <h2>Checks</h2>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it may be longer than its room, and keys scroll it */}
      <ul className="findings scroll" tabIndex={0}>
        {findings.map((finding) => (
          <Check
            key={finding.code}
            project={project}
            source={source}
            frame={frame}
            finding={finding}
            framing={framing}
            proposals={(resting && proposals?.filter(({ against }) => against === finding.code)) || []}
          />
        ))}
        {cadence && !cadence.mixed && (
          <Good>
            {rate(source.values.rate)} fps into {rate(frame.values.rate)} fps: {cadence.words}.
          </Good>
        )}
        {flat && !findings.some(({ code }) => code === "distorted") && <Good>Circles stay round.</Good>}
        {flat && !findings.some(({ code }) => /^(sphere_)?enlarged/.test(code)) && (
          <Good>No pixel is enlarged.</Good>
        )}
        {source.values.subject && !findings.some(({ code }) => code === "subject_cut") && (
          <Good>The subject is whole.</Good>
        )}
      </ul>
    </>
  );
}

function Good({ children }: { children: React.ReactNode }) {
  return (
    <li className="quiet">
      <SeverityMark severity={null} />
      <span>{children}</span>
    </li>
  );
}

interface CheckProps {
  project: number;
  source: Source;
  frame: Frame;
  finding: JudgedFinding;
  framing: Framing;
  proposals: Proposal[];
}

/** One finding, with what would help and why it may stay. */
function Check({ project, source, frame, finding, framing, proposals }: CheckProps) {
  const [open, setOpen] = useState<"help" | "accept" | null>(null);
  const [reason, setReason] = useState("");
  const edit = useEdit(project);
  const plans = useMay("plan");
  const { code, severity, weight, message, accepted, lapsed } = finding;
  const { path } = framing;
  const standing = accepted && !lapsed;
  const judge = async (reason: string | null) => {
    const { done } = await edit({
      edit: "judge_finding",
      conversions: [[path.source, path.frame]],
      code,
      reason,
    });
    if (done) {
      setOpen(null);
      setReason("");
    }
  };
  return (
    <li className={standing ? "accepted" : undefined}>
      <SeverityMark severity={standing ? null : severity} accepted={Boolean(standing)} />
      <div className="check">
        <span>{message}</span>
        {severity !== weight && !standing && (
          <small>
            One of the <Link to={`/projects/${project}/board/points`}>open points</Link> of the project.
          </small>
        )}
        {standing && (
          <small>
            Accepted: {accepted.reason}{" "}
            <For may="plan">
              <Button size="sm" variant="plain" onClick={() => judge(null)}>
                Reopen
              </Button>
            </For>
          </small>
        )}
        {lapsed && accepted && (
          <small>
            Accepted earlier ({accepted.reason}) with other numbers:{" "}
            {Object.values(accepted.numbers).join(", ")}
          </small>
        )}
        {!standing && (
          <span className="check-tools">
            <HelpWith id={`finding/${code}`} />
            {proposals.length > 0 && (
              <Button
                size="sm"
                aria-expanded={open === "help"}
                active={open === "help"}
                onClick={() => setOpen(open === "help" ? null : "help")}
              >
                Remedies · {proposals.length}
              </Button>
            )}
            {weight !== "note" && plans && (
              <Button
                size="sm"
                aria-expanded={open === "accept"}
                active={open === "accept"}
                onClick={() => setOpen(open === "accept" ? null : "accept")}
              >
                Accept …
              </Button>
            )}
          </span>
        )}
        {open === "accept" && !standing && (
          <form
            className="accept"
            onSubmit={(event) => {
              event.preventDefault();
              if (reason.trim()) void judge(reason.trim());
            }}
          >
            <input
              // biome-ignore lint/a11y/noAutofocus: it was just asked for by its button
              autoFocus
              aria-label={`Reason to accept: ${message}`}
              placeholder="Reason"
              maxLength={120}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === "Escape") {
                  event.stopPropagation();
                  setOpen(null);
                }
              }}
            />
            <Button size="sm" type="submit" disabled={!reason.trim()}>
              Accept
            </Button>
          </form>
        )}
        {open === "help" &&
          proposals.map((proposal) => (
            <Help
              key={proposal.words}
              proposal={proposal}
              source={source}
              frame={frame}
              onTake={async () => {
                framing.drop();
                await edit(proposal.edit);
                setOpen(null);
              }}
            />
          ))}
      </div>
    </li>
  );
}

const REACH: Record<string, string> = {
  conversion: "this conversion",
  source: "the source, in every frame",
  frame: "the frame, for every source",
};

interface HelpProps {
  proposal: Proposal;
  source: Source;
  frame: Frame;
  onTake: () => void;
}

/** What would come of a remedy, before it is taken. */
function Help({ proposal, source, frame, onTake }: HelpProps) {
  const { words, reach, after, adds } = proposal;
  const bars = barsText(after.bars);
  const drawn: Frame = { ...frame, values: proposal.frame, shape: proposal.shape };
  return (
    <div className="remedy">
      <PicturedCrossing
        source={keepsPictures(proposal.edit) ? source : undefined}
        crossing={after}
        frame={drawn}
        width={64}
        height={48}
      />
      <div>
        <b>{words}</b>
        <small className="num">
          keeps {short(after.kept * 100, 1)} %, covers {short(after.covered * 100, 1)} %
          {bars ? `, ${bars}` : ""}
        </small>
        <small>
          <SeverityMark severity={after.severity} size={9} />{" "}
          {adds.length > 0 ? `adds: ${adds.map((code) => code.replaceAll("_", " ")).join(", ")}; ` : ""}
          changes {REACH[reach]}
        </small>
      </div>
      <For may="plan">
        <Button size="sm" aria-label={`Apply: ${words}`} onClick={onTake}>
          Apply
        </Button>
      </For>
    </div>
  );
}
