import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import { type Edit, wrongAt } from "../api/client";
import { editPreview } from "../api/queries";
import { useEdit } from "../writes/useEdit";
import { Choice, Field } from "./Field";
import { Follows } from "./Follows";

/** A field that many records share. */
export interface ManyField<D> {
  key: keyof D & string;
  label: string;
  unit?: string | undefined;
  /** The values to choose from; free text without. */
  options?: readonly (readonly [string, string])[] | undefined;
  /** What an empty field means. */
  empty?: string | undefined;
  /** Where the server names it when it is wrong. */
  pointers: string[];
}

/** Which values are there and on how many records, the most frequent first. */
export function spread(values: readonly string[]): [string, number][] {
  const times = new Map<string, number>();
  for (const value of values) times.set(value, (times.get(value) ?? 0) + 1);
  return [...times].sort(([, a], [, b]) => b - a);
}

interface Props<D> {
  project: number;
  fields: readonly ManyField<D>[];
  ids: readonly number[];
  /** The records as their fields show them. */
  drafts: readonly D[];
  /** What is asked for when something is typed. */
  change: (typed: Partial<D>) => Edit;
}

/**
 * Values of many records at once: what they share, or "mixed" where they differ; one change for all,
 * counted before it happens.
 */
export function ManyFields<D>({ project, fields, ids, drafts, change }: Props<D>) {
  const edit = useEdit(project);
  const [typed, setTyped] = useState<Partial<D>>({});
  const [looking, setLooking] = useState<string>();
  const which = ids.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another selection begins anew
  useEffect(() => setTyped({}), [which]);
  const something = Object.keys(typed).length > 0;
  const wanted = change(typed);
  const { data } = useQuery({ ...editPreview(project, wanted), enabled: something });
  const problem = something && data && !data.sound ? data.problem : undefined;
  const would = something && data?.sound ? data.value : undefined;
  const commit = async () => {
    if (!something || problem) return;
    const { done } = await edit(wanted);
    if (done) setTyped({});
  };
  const type = (key: keyof D, value: string) => setTyped((now) => ({ ...now, [key]: value }));
  const valuesOf = ({ key, options, empty }: ManyField<D>) =>
    spread(
      drafts.map((draft) => {
        const value = String(draft[key]);
        return options?.find(([id]) => id === value)?.[1] ?? (value || empty || "none");
      }),
    );
  const looked = fields.find(({ key }) => key === looking);
  return (
    <>
      <div className="fields">
        {fields.map(({ key, label, unit, options, empty, pointers }) => {
          const stored = new Set(drafts.map((draft) => String(draft[key])));
          const [only = ""] = stored.size === 1 ? stored : [];
          const entry = typed[key] as string | undefined;
          const wrong = entry === undefined ? undefined : wrongAt(problem, ...pointers);
          const look = () => setLooking(key);
          if (options) {
            const mixed = entry === undefined && stored.size > 1;
            return (
              <Choice
                key={key}
                label={label}
                value={mixed ? "mixed" : (entry ?? only)}
                options={stored.size > 1 ? [["mixed", "mixed"], ...options] : options}
                wrong={wrong}
                onFocus={look}
                onChoose={(chosen) => chosen !== "mixed" && type(key, chosen)}
              />
            );
          }
          return (
            <Field
              key={key}
              label={label}
              unit={unit}
              numeric
              value={entry ?? only}
              empty={stored.size > 1 ? "mixed" : empty}
              wrong={wrong}
              onFocus={look}
              onText={(text) => type(key, text)}
              onEnter={commit}
              onEscape={() => setTyped({})}
            />
          );
        })}
      </div>
      <div className="would" role="status" data-open={something}>
        {something ? (
          <>
            <span>
              {problem ? (
                problem.detail
              ) : would ? (
                <>
                  <b>{would.label}</b>: changes {would.changed}
                  {would.unchanged > 0 && `; ${would.unchanged} already set like that`}.
                  <Follows framings={would.framings} />
                </>
              ) : (
                "…"
              )}
            </span>
            <Button size="sm" variant="ink" disabled={!would || would.changed === 0} onClick={commit}>
              Change {would?.changed ?? ""} <kbd>Enter</kbd>
            </Button>
            <Button size="sm" onClick={() => setTyped({})}>
              Discard <kbd>Esc</kbd>
            </Button>
          </>
        ) : looked ? (
          <span className="quiet">
            {looked.label} now:{" "}
            {valuesOf(looked).map(([value, times], at) => (
              <span key={value}>
                {at > 0 && ", "}
                <b className="num">{value}</b> on {times}
              </span>
            ))}
          </span>
        ) : (
          <span className="quiet">Enter or choose a value to see how many will change.</span>
        )}
      </div>
    </>
  );
}
