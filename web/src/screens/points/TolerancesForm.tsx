import { useState } from "react";
import { Button } from "react-bootstrap";
import { type Project, wrongAt } from "../../api/client";
import { asNumber, short } from "../../drawing/numbers";
import { Field } from "../../fields/Field";
import { useEdit } from "../../writes/useEdit";

/** How far something needs no look in this project. */
export function TolerancesForm({ project }: { project: Project }) {
  const edit = useEdit(project.id);
  const { values } = project;
  const { enlarged, rates } = values.tolerances;
  const stored = short(asNumber(enlarged) * 100, 1);
  const [typed, setTyped] = useState<string>();
  const [wrong, setWrong] = useState<string>();
  const set = async (tolerances: Partial<Project["values"]["tolerances"]>) => {
    const changed = { ...values, tolerances: { ...values.tolerances, ...tolerances } };
    const { done, problem } = await edit({ edit: "set_project", values: changed });
    if (done) setTyped(undefined);
    setWrong(problem && "Must be from 100 to 1000, such as 120.");
    return wrongAt(problem, "/values/tolerances/enlarged");
  };
  const keep = () => {
    if (typed === undefined || typed.trim() === stored) return setTyped(undefined);
    const percent = typed.trim().replace(/\s*%$/, "").replace(",", ".");
    // Two decimals further left, by its digits: the server reads the number.
    const [whole = "", part = ""] = percent.split(".");
    const digits = whole.padStart(3, "0");
    void set({ enlarged: `${digits.slice(0, -2)}.${digits.slice(-2)}${part}` });
  };
  return (
    <section className="sheet tolerances" aria-label="Tolerances of this project">
      <Field
        label="enlarging needs no look up to"
        unit="%"
        numeric
        value={typed ?? stored}
        wrong={wrong}
        onText={(text) => {
          setTyped(text);
          setWrong(undefined);
        }}
        onDone={keep}
        onEscape={() => {
          setTyped(undefined);
          setWrong(undefined);
        }}
      />
      <div>
        <span className="quiet small">rates that are fine</span>
        <div className="d-flex flex-wrap gap-2">
          {rates.map((pair) => {
            const [from, to] = pair;
            return (
              <span key={`${from} ${to}`} className="chip num">
                {from} → {to} fps{" "}
                <Button
                  size="sm"
                  variant="plain"
                  aria-label={`${from} into ${to} fps needs a look again`}
                  onClick={() => set({ rates: rates.filter((each) => each !== pair) })}
                >
                  Remove
                </Button>
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
