import { useState } from "react";
import { Button } from "react-bootstrap";
import { type Project, wrongAt } from "../../api/client";
import { asNumber, short } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { Fixed, For } from "../../people/may";
import { useEdit } from "../../writes/useEdit";

type Tolerances = Project["values"]["tolerances"];

/** A percentage as the factor that the server reads: two decimals further left, by its digits. */
const factorOf = (typed: string) => {
  const percent = typed.trim().replace(/\s*%$/, "").replace(",", ".");
  const [whole = "", part = ""] = percent.split(".");
  const digits = whole.padStart(3, "0");
  return `${digits.slice(0, -2)}.${digits.slice(-2)}${part}`;
};

interface PercentProps {
  label: string;
  value: string | number;
  /** What would be right. */
  must: string;
  onSet: (factor: string) => Promise<string | undefined>;
}

/** A factor of the project, shown and typed in percent. */
function Percent({ label, value, must, onSet }: PercentProps) {
  const stored = short(asNumber(value) * 100, 2);
  const [typed, setTyped] = useState<string>();
  const [wrong, setWrong] = useState<string>();
  const leave = () => {
    setTyped(undefined);
    setWrong(undefined);
  };
  const keep = async () => {
    if (typed === undefined || typed.trim() === stored) return leave();
    const problem = await onSet(factorOf(typed));
    if (problem === undefined) leave();
    else setWrong(must);
  };
  return (
    <Field
      label={label}
      unit="%"
      numeric
      value={typed ?? stored}
      wrong={wrong}
      onText={(text) => {
        setTyped(text);
        setWrong(undefined);
      }}
      onDone={keep}
      onEscape={leave}
    />
  );
}

/** How far something needs no look in this project, and how much room its subjects have. */
export function TolerancesForm({ project }: { project: Project }) {
  const edit = useEdit(project.id);
  const { values } = project;
  const { enlarged, rates, margin } = values.tolerances;
  const set = async (tolerances: Partial<Tolerances>) => {
    const changed = { ...values, tolerances: { ...values.tolerances, ...tolerances } };
    const { problem } = await edit({ edit: "set_project", values: changed });
    const [at] = Object.keys(tolerances);
    return problem && (wrongAt(problem, `/values/tolerances/${at}`) ?? problem.detail ?? problem.title);
  };
  return (
    <section className="sheet tolerances" aria-label="Tolerances of this project">
      <Fixed may="plan">
        <Percent
          label="enlarging needs no look up to"
          value={enlarged}
          must="Must be from 100 to 1000, such as 120."
          onSet={(factor) => set({ enlarged: factor })}
        />
        <Percent
          label="free on each side of a subject"
          value={margin}
          must="Must be from 0 to 45, such as 5."
          onSet={(factor) => set({ margin: factor })}
        />
      </Fixed>
      <div>
        <span className="quiet small">rates that are fine</span>
        <div className="d-flex flex-wrap gap-2">
          {rates.map((pair) => {
            const [from, to] = pair;
            return (
              <span key={`${from} ${to}`} className="chip num">
                {from} → {to} fps{" "}
                <For may="plan">
                  <Button
                    size="sm"
                    variant="plain"
                    aria-label={`${from} into ${to} fps needs a look again`}
                    onClick={() => set({ rates: rates.filter((each) => each !== pair) })}
                  >
                    Remove
                  </Button>
                </For>
              </span>
            );
          })}
          {rates.length === 0 && (
            <span className="quiet">none yet; a point of two rates offers to call them fine</span>
          )}
        </div>
      </div>
    </section>
  );
}
