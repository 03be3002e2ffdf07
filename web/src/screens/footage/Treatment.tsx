import { Button, Form } from "react-bootstrap";
import type { Source } from "../../api/client";
import { count } from "../../drawing/numbers";
import { TREATMENT, treatmentSet } from "../../fields/sourceDraft";
import { Key, keysOf } from "../../keys/Key";
import { useTreatment } from "../../shell/treatment";
import { useEdit } from "../../writes/useEdit";

/** Gives the treatment that was taken from one source to others, part by part. */
export function GiveTreatment({ project, picked }: { project: number; picked: Source[] }) {
  const [treatment, setTreatment] = useTreatment();
  const edit = useEdit(project);
  if (treatment?.of !== "source") return null;
  const { parts, values, name } = treatment;
  const give = () =>
    edit({ edit: "set_sources", sources: picked.map(({ id }) => id), set: treatmentSet(values, parts) });
  const turn = (id: string, on: boolean) =>
    setTreatment({ ...treatment, parts: on ? [...parts, id] : parts.filter((part) => part !== id) });
  return (
    <fieldset className="tools" aria-label="Copied settings">
      <h3>Settings of {name}</h3>
      <div className="d-flex flex-wrap gap-2 align-items-center">
        {TREATMENT.map(({ id, name }) => (
          <Form.Check
            key={id}
            id={`part-${id}`}
            label={name}
            checked={parts.includes(id)}
            onChange={(event) => turn(id, event.target.checked)}
          />
        ))}
        <Button
          size="sm"
          variant="ink"
          disabled={parts.length === 0}
          onClick={give}
          {...keysOf("applySettings")}
        >
          Apply to {count(picked.length, "source")} <Key of="applySettings" />
        </Button>
      </div>
    </fieldset>
  );
}
