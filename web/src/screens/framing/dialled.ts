import type { Exact } from "../../api/client";
import { short } from "../../drawing/numbers";

/** A number as it is typed elsewhere, to so many decimals: a plain minus sign, no zeros at the end. */
export function dialled(number: Exact, digits: number): string {
  return short(number.value, digits).replace("−", "-");
}
