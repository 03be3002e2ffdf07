const KEPT = "ratiomet.project";

interface Kept {
  id: number;
  name: string;
}

/** Remembers the project that is open, for the screens beside the path. */
export function keepLastProject(project: Kept) {
  try {
    sessionStorage.setItem(KEPT, JSON.stringify(project));
  } catch {
    // A browser that keeps nothing has no last project.
  }
}

/** The project that was open last in this window. */
export function lastProject(): Kept | undefined {
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
    return typeof kept?.id === "number" && typeof kept?.name === "string" ? kept : undefined;
  } catch {
    return undefined;
  }
}
