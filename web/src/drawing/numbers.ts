import type { Exact } from "../api/client";

/** A number with at most so many decimals, trailing zeros left off; a true minus sign. */
export function short(value: number, places = 2): string {
  const text = value.toFixed(places);
  const trimmed = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  return (trimmed === "-0" ? "0" : trimmed).replace("-", "−");
}

/** A share as percent, with as many digits as matter. */
export function percent(share: number): string {
  const value = share * 100;
  return short(value, Math.abs(value) >= 100 || Number.isInteger(value) ? 0 : Math.abs(value) >= 10 ? 1 : 2);
}

/** A ratio as the trade writes it. */
export function ratio(value: number): string {
  return `${value.toFixed(2)}:1`;
}

/** The exact fraction, where the short form hides something. */
export function fraction(number: Exact): string | undefined {
  return number.exact.includes("/") ? `exactly ${number.exact}` : undefined;
}

/** As it would be typed elsewhere: plain minus sign, no unit. */
export function typed(value: number, places = 4): string {
  return short(value, places).replace("−", "-");
}

export function raster([width, height]: readonly number[]): string {
  return `${width}×${height}`;
}

/** A frame rate at a glance: 29.97 for 30000/1001. The exact one stands in its field. */
export function rate(text: string | number | null | undefined): string {
  return text ? short(asNumber(text), 3) : "";
}

/** So many things, in words. */
export function count(number: number, thing: string): string {
  return `${number} ${thing}${number === 1 ? "" : "s"}`;
}

/** The value of a written fraction, for placing a drawing. */
export function asNumber(text: string | number | undefined): number {
  const [above, below = "1"] = String(text ?? "").split(/[/:]/);
  const value = Number(above) / Number(below);
  return Number.isFinite(value) ? value : 0;
}
