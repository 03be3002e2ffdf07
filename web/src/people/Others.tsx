import { tip } from "../tip";
import type { Present } from "./useLive";

/** Who else looks at the project, and where. */
export function Others({ others }: { others: Present[] }) {
  if (others.length === 0) return null;
  const where = ({ name, at }: Present) => (at ? `${name} · ${at}` : name);
  return (
    <span className="others" role="status" {...tip(`Also here: ${others.map(where).join(", ")}`)}>
      {others.length > 2 ? `${others.length} others here` : others.map(({ name }) => name).join(", ")}
    </span>
  );
}
