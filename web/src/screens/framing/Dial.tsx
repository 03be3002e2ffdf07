import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Exact, type RoundingCost, wrongAt } from "../../api/client";
import { roundingQuery } from "../../api/queries";
import { fraction, short } from "../../drawing/numbers";
import { Meant } from "../../fields/Field";
import { copyText } from "../../fields/Figure";
import { useNotices } from "../../shell/notices";
import { CONVENTIONS, type Convention } from "./conventions";
import { DialHelp } from "./DialHelp";
import { dialled } from "./dialled";
import type { Framing } from "./useFraming";

const DIGITS = "ratiomet.digits";
const PARTS = "ratiomet.places";

/** The numbers of a convention, across first. One where it serves both. */
function numbersOf(convention: Convention, pair: { x: Exact; y: Exact }) {
  const one = convention.scale && pair.x.exact === pair.y.exact;
  return one ? [["y", pair.y] as const] : ([["x", pair.x] as const, ["y", pair.y] as const] as const);
}

/** The same placement in each of the numbers that editing programs ask for; each can be typed into. */
export function Dial({ framing }: { framing: Framing }) {
  const { shown, path, typed, entry, peek } = framing;
  const [digits, setDigits] = useState(() => Number(localStorage.getItem(DIGITS) ?? 4));
  const [helps, setHelps] = useState(false);
  const [parts, setParts] = useState(() => localStorage.getItem(PARTS) === "parts");
  const { tell } = useNotices();
  const resting = !typed && !entry && !peek;
  const { data: costs } = useQuery({ ...roundingQuery(path, digits), enabled: resting });
  const choose = (count: number) => {
    localStorage.setItem(DIGITS, String(count));
    setDigits(count);
  };
  const copyAll = async () => {
    const lines = CONVENTIONS.flatMap((convention) => {
      const pair = convention.read(shown);
      if (!pair) return [];
      const numbers = numbersOf(convention, pair).map(([axis, number]) => {
        const name = convention.axes[axis === "x" ? 0 : 1];
        const both = numbersOf(convention, pair).length > 1;
        return `${both ? `${name} ` : ""}${dialled(number, digits)}${convention.unit ? ` ${convention.unit}` : ""}`;
      });
      return [`${convention.name}: ${numbers.join(", ")}`];
    });
    const text = [framing.what, ...lines].join("\n");
    tell((await copyText(text)) ? "All numbers are on the clipboard." : "The clipboard cannot be used here.");
  };
  return (
    <>
      <div className="sheet-head">
        <h2>Dial in</h2>
        <div className="end">
          <Form.Select
            size="sm"
            aria-label="Decimals that the program keeps"
            title="Decimals that your program keeps"
            value={digits}
            onChange={(event) => choose(Number(event.target.value))}
          >
            {[0, 1, 2, 3, 4].map((count) => (
              <option key={count} value={count}>
                {(0).toFixed(count)}
              </option>
            ))}
          </Form.Select>
          <Button
            size="sm"
            aria-pressed={parts}
            active={parts}
            title="Places in parts of the frame's width and height instead of pixels"
            onClick={() => {
              localStorage.setItem(PARTS, parts ? "pixels" : "parts");
              setParts(!parts);
            }}
          >
            Parts
          </Button>
          <Button size="sm" onClick={copyAll} title="Copy all numbers as text">
            Copy all
          </Button>
          <Button
            size="sm"
            onClick={() => setHelps(true)}
            aria-label="Which number does my program want?"
            title="Which number does my program want?"
          >
            ?
          </Button>
        </div>
      </div>
      <div className="dial-rows">
        {CONVENTIONS.filter(({ places }) => !places || (places === "parts") === parts).map((convention) => {
          const pair = convention.read(shown);
          if (!pair) return null;
          const cost = resting ? costs?.find((each) => each.convention === convention.id) : undefined;
          return (
            <div className="dial-row" key={convention.id}>
              <span className="of">
                {convention.name}
                <Cost cost={cost} hint={convention.hint} />
              </span>
              <span className="numbers">
                {numbersOf(convention, pair).map(([axis, number], at, all) => (
                  <DialNumber
                    key={axis}
                    convention={convention}
                    axis={axis}
                    name={all.length > 1 ? `${convention.name}, ${convention.axes[at]}` : convention.name}
                    number={number}
                    digits={digits}
                    framing={framing}
                  />
                ))}
              </span>
            </div>
          );
        })}
      </div>
      <DialHelp show={helps} onHide={() => setHelps(false)} shown={shown} digits={digits} />
    </>
  );
}

/** What rounding costs, if it costs anything that can be seen; else what the numbers are. */
function Cost({ cost, hint }: { cost?: RoundingCost; hint: string }) {
  if (cost && cost.uncovered.value >= 0.02)
    return (
      <small className="cost cut" title="Rounded like this, the program leaves part of the area black">
        rounded: bares {short(cost.uncovered.value, cost.uncovered.value < 1 ? 2 : 1)} px
      </small>
    );
  if (cost && cost.edge.value >= 0.05)
    return (
      <small className="cost" title="How far an edge of the picture lands from its place, at most">
        rounded: off by {short(cost.edge.value, cost.edge.value < 1 ? 2 : 1)} px
      </small>
    );
  return <small>{hint}</small>;
}

interface NumberProps {
  convention: Convention;
  axis: "x" | "y";
  name: string;
  number: Exact;
  digits: number;
  framing: Framing;
}

/** One number: typed where it stands, copied with one click beside it. */
function DialNumber({ convention, axis, name, number, digits, framing }: NumberProps) {
  const [copied, setCopied] = useState(false);
  const { entry, problem } = framing;
  const typing = entry?.convention === convention.id && entry.axis === axis;
  const plain = dialled(number, digits);
  const wrong = typing ? wrongAt(problem, "/entry/value") : undefined;
  const text = typing ? String(entry.value) : plain;
  return (
    <span className={`dial-number ${wrong ? "bad" : ""}`}>
      {convention.times && <span className="unit">×</span>}
      <input
        className="num"
        aria-label={name}
        aria-invalid={wrong ? true : undefined}
        title={wrong ? undefined : fraction(number)}
        data-exact={number.exact}
        inputMode="decimal"
        autoComplete="off"
        spellCheck={false}
        value={text}
        size={Math.max(3, text.length)}
        onChange={(event) =>
          framing.enter({ convention: convention.id, axis, value: event.target.value.trim() })
        }
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => {
          if (event.key === "Enter" && typing) framing.commitEntry();
          if (event.key === "Escape" && typing) {
            event.stopPropagation();
            framing.drop();
          }
        }}
        onBlur={() => typing && (problem ? framing.drop() : framing.commitEntry())}
      />
      {convention.unit && <span className="unit">{convention.unit}</span>}
      <button
        type="button"
        className="copy"
        aria-label={`Copy ${name}: ${plain}`}
        title={copied ? "copied" : `copies ${plain}`}
        data-copies={plain}
        onClick={async () => {
          setCopied(await copyText(plain));
          setTimeout(() => setCopied(false), 1500);
        }}
      >
        <svg viewBox="0 0 12 12" width="11" height="11" aria-hidden="true">
          {copied ? <path d="M2 6.5 5 9.5 10.5 2.5" /> : <path d="M3.5 1.5h7v7M1.5 3.5h7v7h-7Z" />}
        </svg>
      </button>
      {copied && (
        <span className="told" role="status">
          copied
        </span>
      )}
      {wrong && (
        <span className="wrong" role="alert">
          Accepted: {wrong}{" "}
          <Meant text={text} onText={(value) => framing.enter({ convention: convention.id, axis, value })} />
        </span>
      )}
    </span>
  );
}
