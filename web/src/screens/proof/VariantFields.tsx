import { useState } from "react";
import type { Resampling } from "../../api/client";
import { Choice, Field } from "../../fields/Field";
import { METHOD_LIST } from "../../keys/methods";
import { FILTERS, TRANSFERS, type Variant } from "./variants";

interface Props {
  letter: string;
  variant: Variant;
  /** Whether it can be framed otherwise. */
  framed: boolean;
  onChange: (variant: Variant) => void;
}

/** How one variant is worked out. */
export function VariantFields({ letter, variant, framed, onChange }: Props) {
  const { how } = variant;
  const set = (part: Partial<Resampling>) => onChange({ ...variant, how: { ...how, ...part } });
  return (
    <fieldset className="fields variant-fields" aria-label={`Variant ${letter}`}>
      <Choice
        label="filter"
        value={how.filter}
        options={Object.entries(FILTERS)}
        onChoose={(filter) => set({ filter: filter as Resampling["filter"] })}
      />
      <Choice
        label="enlarged"
        value={how.steps}
        options={[
          ["one", "in one step"],
          ["whole_first", "whole first, then down"],
        ]}
        onChoose={(steps) => set({ steps: steps as Resampling["steps"] })}
      />
      <Choice
        label="in light"
        value={how.linear ?? ""}
        options={[["", "no, as stored"], ...Object.entries(TRANSFERS)]}
        onChoose={(transfer) => set({ linear: transfer ? (transfer as keyof typeof TRANSFERS) : null })}
      />
      <Choice
        label="noise"
        value={how.smoothing}
        options={[
          ["none", "left as it is"],
          ["median3", "median 3×3 before"],
          ["median5", "median 5×5 before"],
        ]}
        onChoose={(smoothing) => set({ smoothing: smoothing as Resampling["smoothing"] })}
      />
      <Sharpening key={letter} how={how} onChange={(sharpening) => set({ sharpening })} />
      {framed && (
        <Choice
          label="framing"
          value={variant.method ?? ""}
          options={[["", "as planned"], ...METHOD_LIST.map(({ id, name }) => [id, name] as const)]}
          onChoose={(method) =>
            onChange({ ...variant, method: method ? (method as Variant["method"]) : null })
          }
        />
      )}
    </fieldset>
  );
}

const AMOUNT = "Must be from 0 to 5, such as 0.4; 0 does not sharpen";
const RADIUS = "Must be from 0.3 to 20 pixels, such as 1";
const isNumber = (text: string, low: number, high: number) =>
  /^\d{1,2}(\.\d{1,3})?$/.test(text) && Number(text) >= low && Number(text) <= high;

function Sharpening({
  how,
  onChange,
}: {
  how: Resampling;
  onChange: (to: { amount: string; radius: string } | null) => void;
}) {
  const { sharpening } = how;
  const [draft, setDraft] = useState<{ amount?: string; radius?: string }>({});
  const amount = draft.amount ?? String(sharpening?.amount ?? "0");
  const radius = draft.radius ?? String(sharpening?.radius ?? "1");
  const wrong = {
    amount: isNumber(amount, 0, 5) ? undefined : AMOUNT,
    radius: isNumber(radius, 0.3, 20) ? undefined : RADIUS,
  };
  const done = () => {
    if (wrong.amount || wrong.radius || (draft.amount === undefined && draft.radius === undefined)) return;
    onChange(Number(amount) === 0 ? null : { amount, radius });
    setDraft(Number(amount) === 0 ? { radius } : {});
  };
  return (
    <>
      <Field
        label="sharpened"
        numeric
        value={amount}
        wrong={wrong.amount}
        onText={(text) => setDraft({ ...draft, amount: text })}
        onDone={done}
        onEscape={() => setDraft({})}
      />
      <Field
        label="radius"
        unit="px"
        numeric
        value={radius}
        wrong={wrong.radius}
        onText={(text) => setDraft({ ...draft, radius: text })}
        onDone={done}
        onEscape={() => setDraft({})}
      />
    </>
  );
}
