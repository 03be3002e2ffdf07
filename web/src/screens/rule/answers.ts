import type { Exact } from "../../api/client";
import { percent, raster, short, typed } from "../../drawing/numbers";
import type { FamilyId, Results } from "./families";

/** One line of an answer. */
export interface Line {
  name: string;
  shown: string;
  copies: string;
  exact?: string | undefined;
  /** The answer to the question itself. */
  main?: boolean | undefined;
}

const plain = (name: string, shown: string, main = false): Line => ({ name, shown, copies: shown, main });

function number(name: string, value: Exact, unit = "", places = 4): Line {
  return {
    name,
    shown: `${short(value.value, places)}${unit && ` ${unit}`}`,
    copies: typed(value.value, places),
    exact: hidden(value.exact),
  };
}

const share = (name: string, value: Exact): Line => ({
  name,
  shown: `${percent(value.value)} %`,
  copies: typed(value.value * 100, 2),
  exact: hidden(value.exact),
});

const frame = (name: string, sides: readonly number[], main = false): Line => ({
  name,
  shown: raster(sides),
  copies: sides.join("x"),
  main,
});

const error = (name: string, value: Exact): Line => ({
  name,
  shown: value.value === 0 ? "none" : `${value.value > 0 ? "+" : ""}${short(value.value * 100, 4)} %`,
  copies: typed(value.value * 100, 6),
  exact: hidden(value.exact),
});

const pair = (name: string, [one, other]: readonly Exact[], places = 3): Line => ({
  name,
  shown: [one, other].map((each) => short(each?.value ?? 0, places)).join("×"),
  copies: [one, other].map((each) => typed(each?.value ?? 0, places)).join("x"),
  exact: hidden([one, other].map((each) => each?.exact).join(" × ")),
});

/** A fraction, where the decimal number hides one. */
const hidden = (exact: string) => (exact.includes("/") ? exact : undefined);

const known = (lines: (Line | false | null | undefined)[]): Line[] => lines.filter((line) => !!line);

/** The lines of an answer, the question's own first. */
export const LINES: { [F in FamilyId]: (result: Results[F]) => Line[] } = {
  ratio: ({ frame: sides, exact, ratio, deviation, kept, lost }) =>
    known([
      frame("frame", sides, true),
      pair("before rounding", exact),
      number("shows", ratio, ": 1"),
      error("error of the ratio", deviation),
      kept && share("kept of the container", kept),
      lost &&
        plain("cut off left, top, right, bottom", [lost.left, lost.top, lost.right, lost.bottom].join(", ")),
    ]),
  squeeze: (result) => square(result),
  pixels: (result) => square(result, "part that was meant"),
  scale: ({ x, y, area, uniform, direction, whole }) =>
    known([
      { ...number(uniform ? "factor" : "factor across", x, "×"), main: true },
      !uniform && { ...number("factor up and down", y, "×"), main: true },
      number("area", area, "×"),
      plain(
        "direction",
        { same: "as it is", up: "larger", down: "smaller", mixed: "larger and smaller" }[direction],
      ),
      whole.factor > 1 && plain("smallest whole enlargement", `${whole.factor}×`),
      whole.factor > 1 && share("then scaled to", whole.residual),
    ]),
  push: ({ window, scale, reserve, kept }) =>
    known([
      window && { ...pair("of the source, native pixels", [window.width, window.height]), main: true },
      { ...number("frame pixels for each of them", scale.x), main: true },
      share("kept of the source", kept),
      reserve.x.value >= 1
        ? number("push in further before a pixel is enlarged", reserve.x, "×")
        : plain("push in further before a pixel is enlarged", "no: they are already"),
    ]),
  rates: (result) =>
    "relation" in result
      ? known([
          plain("frames", RELATIONS[result.relation] ?? result.relation, true),
          result.cycle &&
            plain("each source frame appears", `${result.cycle.slice(0, 24).join(" : ")} times`),
          number("rate over rate", result.ratio),
        ])
      : [{ ...share("speed", result.speed), main: true }, number("lasts", result.duration, "× as long")],
  sphere: ({ eye, frame: sides, pixels_per_degree, levels }) =>
    known([
      frame("frame", sides, true),
      frame("one eye", eye),
      pair("pixels for each degree", [pixels_per_degree.x, pixels_per_degree.y]),
      levels && plain("H.264 level", levels.h264 ?? "none takes it"),
      levels && plain("H.265 level", levels.h265 ?? "none takes it"),
    ]),
  view: (result) => [
    {
      ...plain("view pixels for each pixel of the sphere, in the middle", short(result.centre_scale, 4)),
      main: true,
    },
    plain("the same at the edge", short(result.edge_scale, 4)),
    plain("sphere width for 1:1", `${short(result.width_for_native, 1)} px`),
    plain("vertical field of view", `${short(result.vertical_fov, 3)}°`),
    plain("centre: longitude, latitude", result.centre.map((each) => `${short(each, 3)}°`).join(", ")),
    plain("inside the sphere's span", result.outside ? "not all of it" : "all of it"),
  ],
  place: (result) => [
    {
      ...plain("picture width for 1:1", `${short(result.picture_width_for_native, 1)} px`),
      main: true,
    },
    plain("sphere pixels for each of its pixels, in its middle", short(result.picture_scale, 4)),
    plain("height on the sphere", `${short(result.height_degrees, 3)}°`),
    plain("stands off, in its own widths", short(result.distance, 4)),
    frame("sphere pixels around it", [result.bounds.width, result.bounds.height]),
    plain("first column, line", `${result.bounds.x}, ${result.bounds.y}`),
    plain("crosses the seam or holds a pole", result.wraps ? "yes" : "no"),
  ],
  decoder: ({ h264, h265 }) => [
    plain("ITU-T H.264", h264 ? `level ${h264}` : "no level allows it", true),
    plain("ITU-T H.265", h265 ? `level ${h265}` : "no level allows it", true),
  ],
  bits: ({ bytes, bits_per_pixel }) => [
    plain("file size", bytes >= 1e9 ? `${short(bytes / 1e9, 3)} GB` : `${short(bytes / 1e6, 3)} MB`, true),
    plain("bytes", String(bytes)),
    number("bits for each pixel", bits_per_pixel),
  ],
  screen: ({ picture_share, cut, player_bars, baked_bars, double_boxed, frame: shown }) =>
    known([
      { ...share("of the screen shows picture", picture_share), main: true },
      bars("the player's bars", player_bars),
      bars("baked bars on the screen", baked_bars),
      cut.value > 0 && share("of the picture is lost", cut),
      pair("frame on the screen", [shown.width, shown.height], 1),
      plain("bars on all four sides", double_boxed ? "yes: bars on both axes" : "no"),
    ]),
};

const RELATIONS: Record<string, string> = {
  same: "frame for frame",
  drop: "evenly left out",
  repeat: "evenly repeated",
  mixed: "unevenly",
};

function square({ ratio, factor, widened, flattened, target }: Results["squeeze"], part = "target"): Line[] {
  return known([
    { ...number("shows", ratio, ": 1"), main: true },
    number("pixels are wider than high by", factor, "×"),
    frame("square pixels, all lines kept", widened.frame),
    error("error of its ratio", widened.distortion),
    frame("square pixels, all columns kept", flattened.frame),
    error("error of its ratio", flattened.distortion),
    target && share(`the ${part} keeps`, target.kept),
    target &&
      pair(`${part === "target" ? "window" : part}, stored pixels`, [
        target.window.width,
        target.window.height,
      ]),
    target && pair("free on each side, stored pixels", [target.room.x, target.room.y]),
    target && frame(`${part} in square pixels, all lines kept`, target.widened),
    target && frame(`${part} in square pixels, all columns kept`, target.flattened),
  ]);
}

function bars(name: string, edges: Results["screen"]["player_bars"]): Line {
  const sides = [edges.left, edges.top, edges.right, edges.bottom];
  const drawn = sides.filter(({ value }) => value > 0).length;
  return {
    name,
    shown: drawn === 0 ? "none" : sides.map(({ value }) => short(value, 1)).join(", "),
    copies: sides.map(({ value }) => typed(value, 2)).join(", "),
    exact: drawn === 0 ? undefined : "left, top, right, bottom",
  };
}
