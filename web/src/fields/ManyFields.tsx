import { type Problem, wrongAt } from "../api/client";
import { Choice, Field } from "./Field";

/** A field that many records share. */
export interface ManyField<D> {
  key: keyof D & string;
  label: string;
  unit?: string;
  /** The values to choose from; free text without. */
  options?: readonly (readonly [string, string])[];
  /** What an empty field means. */
  empty?: string;
  /** Where the server names it when it is wrong. */
  pointers: string[];
}

/** The value that all have, or how they differ. */
export function shared(values: readonly string[]): { value: string } | { mixed: string } {
  const distinct = [...new Set(values)];
  const [only = ""] = distinct;
  if (distinct.length <= 1) return { value: only };
  const some = distinct.slice(0, 3).map((each) => each || "none");
  return { mixed: `mixed: ${some.join(", ")}${distinct.length > 3 ? " …" : ""}` };
}

interface Props<D> {
  fields: readonly ManyField<D>[];
  /** The records as their fields show them. */
  drafts: readonly D[];
  typed: Partial<D>;
  problem?: Problem;
  edit: (key: keyof D & string, value: string) => void;
  commit: () => void;
  drop: () => void;
}

/** Values of many records at once: what they share, or "mixed" where they differ. */
export function ManyFields<D>({ fields, drafts, typed, problem, edit, commit, drop }: Props<D>) {
  return (
    <div className="fields">
      {fields.map(({ key, label, unit, options, empty, pointers }) => {
        const stored = shared(drafts.map((draft) => String(draft[key])));
        const entry = typed[key] as string | undefined;
        const wrong = entry === undefined ? undefined : wrongAt(problem, ...pointers);
        if (options) {
          const value = entry ?? ("value" in stored ? stored.value : "mixed");
          const choices = "mixed" in stored ? [["mixed", stored.mixed] as const, ...options] : options;
          return (
            <Choice
              key={key}
              label={label}
              value={value}
              options={choices}
              wrong={wrong}
              onChoose={(chosen) => chosen !== "mixed" && edit(key, chosen)}
            />
          );
        }
        return (
          <Field
            key={key}
            label={label}
            unit={unit}
            numeric
            value={entry ?? ("value" in stored ? stored.value : "")}
            empty={"mixed" in stored ? stored.mixed : empty}
            wrong={wrong}
            onText={(text) => edit(key, text)}
            onEnter={commit}
            onEscape={drop}
          />
        );
      })}
    </div>
  );
}
