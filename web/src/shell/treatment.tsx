import { createContext, type ReactNode, useContext, useState } from "react";
import type { FramingValues, SourceValues } from "../api/client";

/** What was taken from one source or conversion, to be given to others. */
export type Treatment =
  | { of: "source"; name: string; parts: readonly string[]; values: SourceValues }
  | { of: "conversion"; name: string; parts: readonly string[]; framing: FramingValues };

const Context = createContext<[Treatment | undefined, (treatment?: Treatment) => void]>([
  undefined,
  () => {},
]);

export const useTreatment = () => useContext(Context);

export function TreatmentProvider({ children }: { children: ReactNode }) {
  const state = useState<Treatment>();
  return <Context value={state}>{children}</Context>;
}
