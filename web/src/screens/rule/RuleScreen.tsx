import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { type FormEvent, memo, useCallback, useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { useLocation, useNavigationType, useSearchParams } from "react-router";
import { api, type Extraction, preview, wrongAt } from "../../api/client";
import { askQuery } from "../../api/queries";
import {
  addressFor,
  addressOf,
  CALCULATIONS,
  type CalcRequest,
  type Calculation,
  calculationOf,
  type Entries,
  entriesOf,
} from "../../calculations";
import { raster, short } from "../../drawing/numbers";
import { Choice, Field } from "../../fields/Field";
import { copyText, Figure } from "../../fields/Figure";
import { sidesIn } from "../../fields/sides";
import { Key, keysOf } from "../../keys/Key";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { Head } from "../../shell/Head";
import { lastProject } from "../../shell/lastProject";
import { useTitle } from "../../shell/ScreenHead";
import { tip } from "../../tip";
import { IntoProject } from "./IntoProject";
import { RuleDrawing } from "./RuleDrawing";

const calcQuery = (request: CalcRequest) =>
  queryOptions({
    queryKey: ["calc", request],
    queryFn: () => preview(api.POST("/api/v1/calc", { body: request })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

interface Asked {
  calculation: Calculation;
  entries: Entries;
}

function askedBy(search: URLSearchParams): Asked {
  const calculation = calculationOf(search.get("of"));
  return { calculation, entries: entriesOf(calculation, search) };
}

/** An address that this screen has written itself. */
const OWN = "written by what is typed";

/** Writing the address takes longer than most answers: it waits until keys do not come. */
const ADDRESS_FOLLOWS_MS = 150;

/** One question, one answer: no project is needed, and the address holds all of it. */
export default function RuleScreen() {
  const [search, setSearch] = useSearchParams();
  const { key, state } = useLocation();
  const isElsewhere = useNavigationType() === "POP" || state !== OWN;
  // What is typed stands here: the address follows, and is behind while keys come fast.
  const [asked, setAsked] = useState(() => askedBy(search));
  const following = useRef<{ timer: number; write: () => void }>(undefined);
  const settle = useCallback((write: boolean) => {
    clearTimeout(following.current?.timer);
    if (write) following.current?.write();
    following.current = undefined;
  }, []);
  useEffect(() => () => settle(false), [settle]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where somebody went back, forth, or by a link
  useEffect(() => {
    if (isElsewhere) {
      settle(false);
      setAsked(askedBy(search));
    }
  }, [key, isElsewhere]);
  const latest = useRef({ setSearch, calculation: asked.calculation });
  latest.current = { setSearch, calculation: asked.calculation };
  const go = useCallback(
    (address: URLSearchParams) => {
      settle(true);
      setAsked(askedBy(address));
      latest.current.setSearch(address, { state: OWN });
    },
    [settle],
  );
  const onCalculation = useCallback((id: string) => go(new URLSearchParams({ of: id })), [go]);
  const onEntries = useCallback(
    (entries: Entries) => {
      const { calculation } = latest.current;
      settle(false);
      setAsked({ calculation, entries });
      const write = () =>
        latest.current.setSearch(addressOf(calculation, entries), { replace: true, state: OWN });
      following.current = { timer: window.setTimeout(() => settle(true), ADDRESS_FOLLOWS_MS), write };
    },
    [settle],
  );
  const { calculation, entries } = asked;
  return (
    <>
      <Head project={lastProject()} />
      <main className="page" id="main">
        <Ask onAsked={go} />
        <Rule
          key={calculation.id}
          calculation={calculation}
          entries={entries}
          onEntries={onEntries}
          onCalculation={onCalculation}
        />
      </main>
    </>
  );
}

/** One line that understands what people say. */
const Ask = memo(function Ask({ onAsked }: { onAsked: (address: URLSearchParams) => void }) {
  const { key } = useLocation();
  const [search] = useSearchParams();
  const said = search.get("q");
  const [question, setQuestion] = useState(said ?? "");
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same question may be brought here again
  useEffect(() => {
    if (said !== null) setQuestion(said);
  }, [said, key]);
  const asked = question.trim();
  const { data, error } = useQuery({ ...askQuery(asked), enabled: asked !== "" });
  const field = useRef<HTMLInputElement>(null);
  const heading = useTitle("Slide rule");
  useCommands("screen", { ask: () => field.current?.focus() });
  const answer = asked ? data?.answer : undefined;
  const no = asked ? data?.no_answer : undefined;
  const address = answer?.request && addressFor(answer.request as Record<string, unknown>);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    // The question stays above its answer, with what was taken for granted.
    if (address) onAsked(address);
  };
  return (
    <form className="ask" onSubmit={submit}>
      <h1 ref={heading} tabIndex={-1}>
        Slide rule
      </h1>
      <div className="ask-line">
        <input
          ref={field}
          aria-label="Ask a question"
          placeholder="Ask: 2.39 from UHD"
          value={question}
          autoComplete="off"
          spellCheck={false}
          maxLength={200}
          onChange={(event) => setQuestion(event.target.value)}
        />
        <Key of="ask" />
      </div>
      <div className="ask-answer" role="status">
        {error ? (
          <span className="text-cut">{failureText(error)}</span>
        ) : answer ? (
          <>
            <span className="quiet">{answer.understood}:</span> <b>{answer.sentence}</b>
            {answer.remarks.map((remark) => (
              <small key={remark}> {remark}.</small>
            ))}{" "}
            {address && <small className="quiet">Press Enter to open it below.</small>}
            {answer.others.length > 0 && (
              // biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is reached by key
              <ul className="others" aria-label="What may have been meant as well" tabIndex={0}>
                {answer.others.map(({ understood, sentence }) => (
                  <li key={understood}>
                    <span className="quiet">{understood}:</span> {sentence}
                  </li>
                ))}
              </ul>
            )}
          </>
        ) : (
          <>
            {no && <span className="text-cut">{no.why}. </span>}
            <span className="quiet">For example:</span>
            {(no?.examples ?? EXAMPLES).map((example) => (
              <button key={example} type="button" className="example" onClick={() => setQuestion(example)}>
                {example}
              </button>
            ))}
          </>
        )}
      </div>
    </form>
  );
});

const EXAMPLES = ["2.39 from UHD", "1.8x on 3840x2160 into 2.39", "720x576 12:11", "HD into UHD", "60 at 24"];

interface RuleProps {
  calculation: Calculation;
  entries: Entries;
  onEntries: (entries: Entries) => void;
  onCalculation: (id: string) => void;
}

/** The calculations, the fields of one, its drawing and its answer. */
const Rule = memo(function Rule({ calculation, entries, onEntries, onCalculation }: RuleProps) {
  const { tell } = useNotices();
  const { data, error, isPlaceholderData } = useQuery(calcQuery(calculation.ask(entries)));
  const problem = data && !data.sound ? data.problem : undefined;
  // The last good answer stays while what is typed is refused, or on its way.
  const sound = data?.sound && !isPlaceholderData ? data.value : undefined;
  const [good, setGood] = useState<{ result: NonNullable<typeof sound>; entries: Entries }>();
  // Set while it is rendered, so that an answer needs no second drawing.
  if (sound && good?.result !== sound) setGood({ result: sound, entries });
  const lines = good ? calculation.lines(good.result) : [];
  const extraction = good?.result.kind === "extraction" ? good.result : undefined;
  const set = (key: string, value: string) => onEntries({ ...entries, [key]: value });
  // Either side takes both: "1920x1080".
  const setSides = ([width, height]: [string, string], key: string, value: string) => {
    const both = sidesIn({ width: value, height: "" });
    const set = both.height ? { [width]: both.width, [height]: both.height } : { [key]: value };
    onEntries({ ...entries, ...set });
  };
  const sentence = () => {
    const asked = calculation.fields
      .map(
        ({ label, key, unit }) => `${label} ${entries[key] || "–"}${entries[key] && unit ? ` ${unit}` : ""}`,
      )
      .join(", ");
    return `${calculation.name} (${asked}): ${lines.map(({ name, shown }) => `${name} ${shown}`).join("; ")}.`;
  };
  const copy = async () =>
    tell(
      (await copyText(sentence())) ? "Question and answer copied." : "The clipboard is not available here.",
    );
  useCommands("screen", { copyAnswer: () => copy() });
  // Where they stand in a row, the one at hand is pushed into sight.
  const families = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows the question
  useEffect(() => {
    const row = families.current;
    const current = row?.querySelector<HTMLElement>("[aria-current]");
    if (row && current) row.scrollLeft = current.offsetLeft - row.offsetLeft;
  }, [calculation]);
  return (
    <div className="rule">
      <nav className="sheet families" aria-label="Questions" ref={families}>
        {CALCULATIONS.map(({ id, name, asks }) => (
          <button
            key={id}
            type="button"
            aria-current={id === calculation.id ? "page" : undefined}
            onClick={() => onCalculation(id)}
          >
            <b>{name}</b>
            <small>{asks}</small>
          </button>
        ))}
      </nav>
      <section className="sheet asked" aria-label="Question">
        <div className="sheet-head">
          <h2>{calculation.name}</h2>
          <small>{calculation.asks}</small>
        </div>
        <div className="fields">
          {calculation.fields.map(({ key, label, unit, at, options, empty, sides }) =>
            options ? (
              <Choice
                key={key}
                label={label}
                value={entries[key] ?? ""}
                options={options}
                wrong={wrongAt(problem, ...at)}
                onChoose={(value) => set(key, value)}
              />
            ) : (
              <Field
                key={key}
                label={label}
                unit={unit}
                numeric
                empty={empty}
                value={entries[key] ?? ""}
                wrong={wrongAt(problem, ...at)}
                onText={(value) => (sides ? setSides(sides, key, value) : set(key, value))}
              />
            ),
          )}
          {extraction && <Linked result={extraction} entries={entries} onEntries={onEntries} />}
        </div>
        {error && (
          <Notice slim role="alert">
            {failureText(error)}
          </Notice>
        )}
        {good && <RuleDrawing calculation={calculation} entries={good.entries} result={good.result} />}
      </section>
      <section className="sheet answered" aria-label="Answer">
        <div className="sheet-head">
          <h2>Answer</h2>
          <div className="end">
            <IntoProject calculation={calculation} entries={good?.entries} result={good?.result} />
            <Button
              size="sm"
              onClick={copy}
              {...keysOf("copyAnswer")}
              {...tip("Copy question and answer as a sentence")}
            >
              Copy <Key of="copyAnswer" />
            </Button>
          </div>
        </div>
        <dl className="lines scroll">
          {lines.map(({ name, shown, copies, exact, main }, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two errors of a ratio have the same name
            <div key={at} className={main ? "main" : undefined}>
              <dt>{name}</dt>
              <dd>
                <Figure shown={shown} copies={copies} name={name} exact={exact} />
                {exact && <small className="num quiet">{exact}</small>}
              </dd>
            </div>
          ))}
        </dl>
        {extraction && <Candidates result={extraction} onStep={(step) => set("step", String(step))} />}
        {calculation.reason && <p className="reason">{calculation.reason}</p>}
      </section>
    </div>
  );
});

/** The frame itself, to be typed: the ratio follows. */
function Linked({
  result,
  entries,
  onEntries,
}: {
  result: Extraction;
  entries: Entries;
  onEntries: (entries: Entries) => void;
}) {
  const [typed, setTyped] = useState<{ side: 0 | 1; text: string } | null>(null);
  const [width = 0] = result.frame;
  const held = String(width) === entries.w ? 1 : 0;
  const side = (at: 0 | 1) => (typed?.side === at ? typed.text : String(result.frame[at]));
  const type = (at: 0 | 1, text: string) => {
    setTyped({ side: at, text });
    const other = at === 1 ? (entries.w ?? "") : (entries.h ?? "");
    // With square pixels a ratio is width over height; the server reads the fraction as it stands.
    if (/^\d{1,5}$/.test(text) && Number(text) > 0)
      onEntries({
        ...entries,
        ratio: at === 1 ? `${other}/${text}` : `${text}/${other}`,
        keep: at === 1 ? "width" : "height",
      });
  };
  if (entries.aspect !== "1") return null;
  return held === 1 ? (
    <Field
      label="or the height"
      unit="px"
      numeric
      value={side(1)}
      onText={(text) => type(1, text)}
      onDone={() => setTyped(null)}
    />
  ) : (
    <Field
      label="or the width"
      unit="px"
      numeric
      value={side(0)}
      onText={(text) => type(0, text)}
      onDone={() => setTyped(null)}
    />
  );
}

/** Every rounding with its error, and the published frames nearby. */
function Candidates({ result, onStep }: { result: Extraction; onStep: (step: number) => void }) {
  return (
    <div className="candidates">
      <h3>Rounded</h3>
      <table className="register">
        <tbody>
          {result.candidates.map(({ step, frame, ratio, deviation }) => (
            <tr key={step}>
              <td className="num">{step} px</td>
              <td className="num">
                <b>{raster(frame)}</b>
              </td>
              <td className="num quiet">{short(ratio.value, 4)}</td>
              <td className="num quiet">
                {deviation.value > 0 ? "+" : ""}
                {short(deviation.value * 100, 3)} %
              </td>
              <td>
                <Button size="sm" onClick={() => onStep(step)} aria-label={`Use a rounding of ${step} px`}>
                  Use
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {result.published.length > 0 && (
        <>
          <h3>Published nearby</h3>
          <ul>
            {result.published.map(({ name, frame, source }) => (
              <li key={name}>
                <b>{name}</b> <span className="num">{raster(frame)}</span>{" "}
                <small className="quiet">{source}</small>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
