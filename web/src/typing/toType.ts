import type { ToType, TypingProfile } from "../api/client";
import { short } from "../drawing/numbers";

/** One thing to type, in its place among the others. */
export interface TypedLine {
  name: string;
  shown: string;
  /** As it is typed elsewhere. */
  copies: string;
  hint?: string | undefined;
}

/** A number with so many decimals, all of them: as it is typed, with a plain minus sign. */
const fixed = (value: number, decimals: number) => {
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? (0).toFixed(decimals) : text;
};

const turnedWords = (turn: number, sign: TypingProfile["turn_sign"]) => {
  const clockwise = sign === "clockwise" ? turn : -turn;
  if (Math.abs(turn) === 180) return "either way round";
  return clockwise > 0
    ? `clockwise; ${-turn}° where turns count the other way`
    : `anticlockwise; ${-turn}° where turns count the other way`;
};

/** The numbers to type, in the order in which they are typed; the safe ones where rounding would uncover something. */
export function linesOf(typed: ToType, profile: TypingProfile): TypedLine[] {
  const { cut, turn, uniform, as_it_lies, safe, rounded } = typed;
  const { zoom, place } = safe ?? rounded;
  const unit = profile.zoom_unit === "percent" ? " %" : "×";
  const whole = profile.hundred === "native" ? "native size" : profile.hundred;
  const size = (name: string, value: number): TypedLine => {
    const text = fixed(value, profile.zoom_decimals);
    return { name, shown: text + unit, copies: text, hint: `of ${whole}` };
  };
  const lies = as_it_lies ? " of the clip as it lies" : "";
  const at = (name: string, value: number, counts: string): TypedLine => {
    const text = fixed(value, profile.place_decimals);
    return { name, shown: profile.unit === "pixels" ? `${text} px` : text, copies: text, hint: counts };
  };
  const lines: TypedLine[] = [];
  if (cut) {
    const sides = [cut.left, cut.top, cut.right, cut.bottom];
    lines.push({
      name: "cut",
      shown: `${sides.join(" / ")} px`,
      copies: sides.join(" "),
      hint: "left, top, right, bottom",
    });
  }
  if (turn !== 0)
    lines.push({
      name: "rotate",
      shown: `${turn}°`,
      copies: String(turn),
      hint: turnedWords(turn, profile.turn_sign),
    });
  if (uniform) lines.push(size("zoom", zoom.y.value));
  else lines.push(size(`width${lies}`, zoom.x.value), size(`height${lies}`, zoom.y.value));
  lines.push(
    at("position across", place.x.value, "to the right"),
    at(
      profile.upwards === "up" ? "position up" : "position down",
      place.y.value,
      profile.upwards === "up" ? "upwards" : "downwards",
    ),
  );
  return lines;
}

/** What rounding costs with the decimals of the program, if it costs anything. */
export function roundingText({ safe, rounded, uniform }: ToType, profile: TypingProfile): string | undefined {
  if (!safe) return undefined;
  const plain = fixed(rounded.zoom.y.value, profile.zoom_decimals);
  const size = fixed(safe.zoom.y.value, profile.zoom_decimals);
  const px = short(rounded.uncovered.value, rounded.uncovered.value < 1 ? 2 : 1);
  const percent = safe.larger.value * 100;
  const more = percent < 0.01 ? "under 0.01" : short(percent, 2);
  return uniform
    ? `${plain} would leave ${px} px uncovered; ${size} is safe and cuts ${more} % more.`
    : `Rounded down they would leave ${px} px uncovered; these are safe and cut ${more} % more.`;
}

/** How far one may still push in, per axis and as one number. */
export function reserveText({ reserve, reserve_both }: ToType): string {
  const both = reserve_both.value;
  const axes =
    reserve.x.exact === reserve.y.exact
      ? ""
      : ` (${short(reserve.x.value, 2)}× across, ${short(reserve.y.value, 2)}× up and down)`;
  return both >= 1
    ? `Push in up to ${short(both, 2)}× until 1:1${axes}.`
    : `No room to push in, enlarged to ${short(100 / both, 1)} %${axes}.`;
}
