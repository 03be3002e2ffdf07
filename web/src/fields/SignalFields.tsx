import { type Problem, type SphereForm, wrongAt } from "../api/client";
import { Choice, Field } from "./Field";
import { FULL_SPHERE, formOf, formsWith, formText } from "./sphereForm";

/** What sources and frames have in common, as their fields show it. */
export interface SignalDraft {
  note: string;
  rate: string;
  /** Empty when nothing says so, which only a source may leave open. */
  scan: "progressive" | "interlaced" | "";
  signalRange: "narrow" | "full" | "";
  projection: "flat" | "sphere";
  /** How the sphere lies in its frame, where it is one. */
  form: string;
}

export const NEW_SIGNAL: SignalDraft = {
  note: "",
  rate: "",
  scan: "progressive",
  signalRange: "narrow",
  projection: "flat",
  form: FULL_SPHERE,
};

interface SignalValues {
  note: string;
  rate?: string | number | null | undefined;
  scan?: "progressive" | "interlaced" | null | undefined;
  signal_range?: "narrow" | "full" | null | undefined;
  projection: SignalDraft["projection"];
  sphere: SphereForm;
}

export function signalDraftOf(values: SignalValues): SignalDraft {
  const { note, rate, scan, signal_range, projection, sphere } = values;
  const form = formText(sphere);
  return { note, rate: textOf(rate), scan: scan ?? "", signalRange: signal_range ?? "", projection, form };
}

export function signalValuesOf({ note, rate, scan, signalRange, projection, form }: SignalDraft) {
  return {
    note,
    rate: orNull(rate),
    scan: scan || null,
    signal_range: signalRange || null,
    projection,
    sphere: formOf(form),
  };
}

/** An empty field means that there is no value. */
export function orNull(text: string): string | null {
  return text.trim() === "" ? null : text.trim();
}

export function textOf(value: string | number | null | undefined): string {
  return value === null || value === undefined ? "" : String(value);
}

export interface FieldsProps<D> {
  draft: D;
  problem?: Problem | undefined;
  edit: (part: Partial<D>) => void;
  /** Keep what was typed; left out where a button does that. */
  commit?: (() => void) | undefined;
  /** Back to what is stored. */
  drop?: (() => void) | undefined;
  /** Whether the name has the focus first. */
  nameFirst?: boolean | undefined;
}

export const SCANS = [
  ["progressive", "progressive"],
  ["interlaced", "interlaced"],
] as const;
export const RANGES = [
  ["narrow", "narrow"],
  ["full", "full"],
] as const;

/** The choices of a source, which may leave them open. */
export const SOURCE_SCANS = [["", "unknown"], ...SCANS] as const;
export const SOURCE_RANGES = [["", "unknown"], ...RANGES] as const;

export const PROJECTIONS = [
  ["flat", "flat"],
  ["sphere", "sphere"],
] as const;

export function SignalFields({
  draft,
  problem,
  edit,
  commit,
  drop,
  noRate,
  mayBeUnknown,
}: FieldsProps<SignalDraft> & {
  noRate: string;
  /** Whether scan and range may be left open. */
  mayBeUnknown?: boolean;
}) {
  const done = { onDone: commit, onEscape: drop };
  const choose = (part: Partial<SignalDraft>) => {
    edit(part);
    commit?.();
  };
  return (
    <>
      <Field
        label="frame rate"
        empty={noRate}
        unit="fps"
        numeric
        value={draft.rate}
        wrong={wrongAt(problem, "/rate")}
        onText={(rate) => edit({ rate })}
        {...done}
      />
      <Choice
        label="scan"
        value={draft.scan}
        options={mayBeUnknown ? SOURCE_SCANS : SCANS}
        onChoose={(scan) => choose({ scan: scan as SignalDraft["scan"] })}
      />
      <Choice
        label="signal range"
        value={draft.signalRange}
        options={mayBeUnknown ? SOURCE_RANGES : RANGES}
        onChoose={(range) => choose({ signalRange: range as SignalDraft["signalRange"] })}
      />
      <Choice
        label="picture"
        value={draft.projection}
        options={PROJECTIONS}
        onChoose={(projection) => choose({ projection: projection as SignalDraft["projection"] })}
      />
      {draft.projection === "sphere" && (
        <>
          <Choice
            label="sphere"
            value={draft.form}
            options={formsWith(draft.form)}
            onChoose={(form) => choose({ form })}
          />
          <Field
            label="span"
            unit="°"
            value={draft.form.split(" ")[0] ?? ""}
            wrong={wrongAt(problem, "/sphere/span", "/sphere/span/0", "/sphere/span/1")}
            onText={(span) =>
              edit({ form: [span.replace(/\s/g, ""), ...draft.form.split(" ").slice(1)].join(" ") })
            }
            {...done}
          />
        </>
      )}
      <Field
        label="note"
        className="wide"
        value={draft.note}
        wrong={wrongAt(problem, "/note")}
        onText={(note) => edit({ note })}
        {...done}
      />
    </>
  );
}
