import { useState } from "react";
import { plainNumber } from "./spelling";

/** A number as it was typed, as long as that says the value: "1,8x" stays in the field that holds 1.8. */
export function useTyped(value: string, unit?: string) {
  const [typed, setTyped] = useState<string>();
  return {
    shown: typed !== undefined && plainNumber(typed, unit) === value ? typed : value,
    /** Keeps what was typed, and gives the number that is meant. */
    take: (text: string) => {
      setTyped(text);
      return plainNumber(text, unit);
    },
    forget: () => setTyped(undefined),
  };
}
