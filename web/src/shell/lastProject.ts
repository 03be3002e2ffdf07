import { keep, kept, thisWindow } from "../kept";

const KEPT = "ratiomet.project";

interface Last {
  id: number;
  name: string;
}

function isLast(value: unknown): value is Last {
  const last = value as Partial<Last> | null;
  return typeof last?.id === "number" && typeof last.name === "string";
}

/** Remembers the project that is open, for the screens beside the path. */
export const keepLastProject = (project: Last) => keep(thisWindow, KEPT, project);

/** The project that was open last in this window. */
export const lastProject = (): Last | undefined =>
  kept<Last | undefined>(thisWindow, KEPT, undefined, (value): value is Last => isLast(value));
