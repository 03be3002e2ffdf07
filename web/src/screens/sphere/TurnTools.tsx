import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import type { Orientation } from "../../api/client";
import { Choice, Field } from "../../fields/Field";
import { type Hold, NOT_TURNED } from "./look";

const HOLDS = [
  ["free", "any way"],
  ["around", "around only (⇧)"],
  ["roll", "roll only (Alt)"],
] as const;

const PARTS = ["yaw", "pitch", "roll"] as const;

interface Props {
  turn: Orientation;
  hold: Hold;
  onHold: (hold: Hold) => void;
  onTurn: (turn: Orientation) => void;
}

/** Three angles to type, each by itself. */
export function Angles({ value, onKeep }: { value: Orientation; onKeep: (value: Orientation) => void }) {
  const [typed, setTyped] = useState<Partial<Orientation>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: what comes in another way counts
  useEffect(() => setTyped({}), [value.yaw, value.pitch, value.roll]);
  const keep = () => {
    if (Object.keys(typed).length > 0) onKeep({ ...value, ...typed });
  };
  const shown = (part: (typeof PARTS)[number]) => {
    const text = typed[part] ?? value[part];
    return typed[part] === undefined ? String(Math.round(Number(text) * 1000) / 1000) : String(text);
  };
  const most = { yaw: 360, pitch: 90, roll: 360 };
  const wrong = (part: (typeof PARTS)[number]) => {
    const text = typed[part];
    if (text === undefined) return undefined;
    const number = Number(String(text).replace(",", "."));
    return Number.isFinite(number) && Math.abs(number) <= most[part]
      ? undefined
      : `${most[part]}° at most, either way`;
  };
  return (
    <>
      {PARTS.map((part) => (
        <Field
          key={part}
          label={part}
          unit="°"
          numeric
          value={shown(part)}
          wrong={wrong(part)}
          onText={(text) => setTyped((now) => ({ ...now, [part]: text }))}
          onDone={() => PARTS.every((each) => !wrong(each)) && keep()}
          onEscape={() => setTyped({})}
        />
      ))}
    </>
  );
}

/** How the sphere is turned: typed, reset, and which way a hand may turn it. */
export function TurnTools({ turn, hold, onHold, onTurn }: Props) {
  const none = PARTS.every((part) => Number(turn[part]) === 0);
  return (
    <fieldset className="tools" aria-label="Turn">
      <h2>
        <i className="swatch turned" /> How the sphere is turned
      </h2>
      <div className="fields angles">
        <Angles value={turn} onKeep={onTurn} />
        <Choice
          label="a hand turns it"
          value={hold}
          options={HOLDS}
          onChoose={(hold) => onHold(hold as Hold)}
        />
      </div>
      <div className="tool-row">
        <Button size="sm" disabled={none} onClick={() => onTurn(NOT_TURNED)}>
          Reset the turn
        </Button>
        <Button size="sm" disabled={Number(turn.yaw) === 0} onClick={() => onTurn({ ...turn, yaw: "0" })}>
          Reset yaw
        </Button>
        <Button
          size="sm"
          disabled={Number(turn.pitch) === 0 && Number(turn.roll) === 0}
          onClick={() => onTurn({ ...turn, pitch: "0", roll: "0" })}
        >
          Reset pitch and roll
        </Button>
      </div>
      <p className="quiet small mb-0">
        Violet in the drawing: the line that is level now, and dashed the seam of the file.
      </p>
    </fieldset>
  );
}
