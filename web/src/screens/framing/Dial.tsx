import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Exact, type RoundingCost, wrongAt } from "../../api/client";
import { roundingQuery } from "../../api/queries";
import { fraction, short } from "../../drawing/numbers";
import { Meant } from "../../fields/Field";
import { copyText } from "../../fields/Figure";
import { useTyped } from "../../fields/useTyped";
import { here, keep, kept } from "../../kept";
import { useNotices } from "../../notices/notices";
import { tip } from "../../tip";
import { CONVENTIONS, type Convention } from "./conventions";
import { DialHelp } from "./DialHelp";
import { dialled } from "./dialled";
import type { Framing } from "./useFraming";

const DIGITS = "ratiomet.digits";
const FRACTIONS = "ratiomet.fractions";
const isDigits = (value: unknown): value is number => [0, 1, 2, 3, 4].includes(value as number);
const isFlag = (value: unknown): value is boolean => typeof value === "boolean";

/** The numbers of a convention, across first. One where it serves both. */
function numbersOf(convention: Convention, pair: { x: Exact; y: Exact }) {
  const one = convention.scale && pair.x.exact === pair.y.exact;
  return one ? [["y", pair.y] as const] : ([["x", pair.x] as const, ["y", pair.y] as const] as const);
}

/** The same placement in each of the numbers that editing programs ask for; each can be typed into. */
export function Dial({ framing }: { framing: Framing }) {
  const { shown, path, begun } = framing;
  const [digits, setDigits] = useState(() => kept(here, DIGITS, 4, isDigits));
  const [helps, setHelps] = useState(false);
  const [fractions, setFractions] = useState(() => kept(here, FRACTIONS, false, isFlag));
  const { tell } = useNotices();
  const resting = !begun;
  const { data: costs } = useQuery({ ...roundingQuery(path, digits), enabled: resting });
  const choose = (count: number) => {
    keep(here, DIGITS, count);
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
    tell((await copyText(text)) ? "Numbers copied." : "The clipboard is not available here.");
  };
  return (
    <>
      <div className="sheet-head">
        <h2>All conventions</h2>
        <div className="end">
          <Form.Select
            size="sm"
            aria-label="Decimals"
            {...tip("Decimals that your program keeps")}
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
            aria-pressed={fractions}
            active={fractions}
            {...tip("Positions as fractions of the frame's width and height instead of pixels")}
            onClick={() => {
              keep(here, FRACTIONS, !fractions);
              setFractions(!fractions);
            }}
          >
            Fractions
          </Button>
          <Button size="sm" onClick={copyAll} {...tip("Copy all numbers as text")}>
            Copy all
          </Button>
          <Button
            size="sm"
            onClick={() => setHelps(true)}
            aria-label="Which number does my program want?"
            {...tip("Which number does my program want?")}
          >
            ?
          </Button>
        </div>
      </div>
      <div className="dial-rows">
        {CONVENTIONS.filter(({ places }) => !places || (places === "fractions") === fractions).map(
          (convention) => {
            const pair = convention.read(shown);
            if (!pair) {
              return (
                <div className="dial-row" key={convention.id}>
                  <span className="of">{convention.name}</span>
                  <span className="quiet">none: nothing of the picture is seen</span>
                </div>
              );
            }
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
          },
        )}
      </div>
      <DialHelp show={helps} onHide={() => setHelps(false)} shown={shown} digits={digits} />
    </>
  );
}

/** What rounding costs, if it costs anything that can be seen; else what the numbers are. */
function Cost({ cost, hint }: { cost?: RoundingCost | undefined; hint: string }) {
  if (cost && cost.uncovered.value >= 0.02)
    return (
      <small className="cost cut" {...tip("With this rounding, part of the picture area stays black")}>
        rounded: leaves {short(cost.uncovered.value, cost.uncovered.value < 1 ? 2 : 1)} px uncovered
      </small>
    );
  if (cost && cost.edge.value >= 0.05)
    return (
      <small className="cost" {...tip("The most that an edge of the picture lands off its place")}>
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
  const typed = useTyped(typing ? String(entry.value) : plain, convention.unit);
  const text = typed.shown;
  return (
    <span className={`dial-number ${wrong ? "bad" : ""}`}>
      {convention.times && <span className="unit">×</span>}
      <input
        className="num"
        aria-label={name}
        aria-invalid={wrong ? true : undefined}
        {...tip(wrong ? undefined : fraction(number))}
        data-exact={number.exact}
        inputMode="decimal"
        autoComplete="off"
        spellCheck={false}
        value={text}
        size={Math.max(3, text.length)}
        onChange={(event) =>
          framing.enter({ convention: convention.id, axis, value: typed.take(event.target.value).trim() })
        }
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => {
          if (event.key === "Enter" && typing) void framing.commitEntry();
          if (event.key === "Escape" && typing) {
            event.stopPropagation();
            typed.forget();
            framing.drop();
          }
        }}
        // A refused entry stays in its field until it is mended or Escape drops it.
        onBlur={() => {
          typed.forget();
          if (typing && !problem) void framing.commitEntry();
        }}
      />
      {convention.unit && <span className="unit">{convention.unit}</span>}
      <button
        type="button"
        className="copy"
        aria-label={`Copy ${name}: ${plain}`}
        {...tip(copied ? "copied" : `copy ${plain}`)}
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
          {wrong}{" "}
          <Meant text={text} onText={(value) => framing.enter({ convention: convention.id, axis, value })} />
        </span>
      )}
    </span>
  );
}
