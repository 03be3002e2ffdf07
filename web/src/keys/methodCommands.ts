import type { Method } from "../api/client";
import { METHOD_LIST } from "./methods";
import type { Handlers } from "./stack";

/** The commands of the methods, and the one that drops a method. */
export function methodCommands(set: (method: Method | null) => void): Handlers {
  const each = METHOD_LIST.map(({ id }) => [id, () => set(id)]);
  return { ...Object.fromEntries(each), follow: () => set(null) };
}
