import type { components } from "../../api/schema";
import { addressOf, type CalcRequest, calculationOf, type Entries } from "../../calculations";
import { asNumber, percent, raster, short, typed } from "../../drawing/numbers";

type Schemas = components["schemas"];
export type Published = Schemas["Tables"];
export type KindId = "ratio" | "squeeze" | "pixels" | "frames" | "levels" | "safe";

/** What somebody added to a table: sizes in pixels, and plain numbers. */
export interface Own {
  sizes: [number, number][];
  numbers: string[];
}

export interface Cell {
  shown: string;
  /** A second line. */
  more?: string | undefined;
  /** What it is sorted by, where that is not the text. */
  sorts?: number | undefined;
  /** Where the slide rule shows how it came to be. */
  to?: string | undefined;
  /** Where it is laid down, to be listed below the table. */
  source?: string | undefined;
  /** The best of its row. */
  best?: boolean | undefined;
}

export interface Row {
  key: string;
  cells: Cell[];
}

export interface Layout {
  columns: { name: string; more?: string | undefined; words?: boolean | undefined }[];
  rows: Row[];
}

export interface Kind {
  id: KindId;
  name: string;
  asks: string;
  /** What the cells say, and where it is laid down. */
  reads: string;
  /** What can be added, if anything. */
  adds?: { says: string; sizes: boolean; numbers: boolean };
  /** Whether a target ratio is asked for. */
  target?: boolean | undefined;
  requests: (of: Published, own: Own, target: string) => CalcRequest[];
  lay: (of: Published, own: Own, target: string, results: readonly unknown[]) => Layout;
}

const rule = (id: string, entries: Entries) => `/slide-rule?${addressOf(calculationOf(id), entries)}`;

/** The server says what is wrong with a request. */
const request = (body: object) => JSON.parse(JSON.stringify(body)) as CalcRequest;

const sizeEntries = ([w, h]: readonly number[]): Entries => ({ w: String(w), h: String(h) });
const word = (shown: string, more?: string): Cell => ({ shown, more });
const size = (sides: readonly number[], more?: string): Cell => ({
  shown: raster(sides),
  more,
  sorts: (sides[0] ?? 0) * (sides[1] ?? 0),
});

/** A ratio as it was written, beside its value where that differs. */
const asRatio = (text: string, value: number, more?: string): Cell => ({
  shown: short(value, 3),
  more: [text !== short(value, 3) && text, more].filter(Boolean).join(" · "),
  sorts: value,
});

/** A fraction as it is said; nothing where the number is whole. */
const asPair = (exact: string) => (exact.includes("/") ? exact.replace("/", ":") : undefined);

/** An error as percent, with as many digits as show that it is one. */
const error = (share: number) => {
  const part = share * 100;
  return `${part > 0 ? "+" : ""}${short(part, part !== 0 && Math.abs(part) < 0.01 ? 4 : 2)} %`;
};

/** The answers to a grid of requests, row by row. */
const grid = <T>(results: readonly unknown[], columns: number, row: number): T[] =>
  results.slice(row * columns, (row + 1) * columns) as T[];

const CONTAINERS: [number, number][] = [
  [1280, 720],
  [1920, 1080],
  [3840, 2160],
  [2048, 1080],
  [4096, 2160],
  [1080, 1920],
];

const RATES = ["24", "25", "30", "50", "60", "120"];
const SD: [number, number][] = [
  [704, 576],
  [704, 480],
  [720, 576],
  [720, 480],
];

const ratios = (of: Published, own: Own) => [
  ...of.ratios,
  ...own.numbers.map((ratio) => ({ ratio, name: "your own", source: "" })),
];
const containers = (own: Own) => [...CONTAINERS, ...own.sizes];
const sensors = (of: Published, own: Own) => [
  ...of.sensors.map(({ name, raster: sides }) => ({ name, sides })),
  ...own.sizes.map((sides) => ({ name: "your own", sides: [...sides] })),
];
const lenses = (of: Published, own: Own) => [...of.squeezes, ...own.numbers];
const shapes = (of: Published, own: Own) => [
  ...of.pixel_shapes.map(({ idc, pixel_aspect }) => ({ idc: String(idc), aspect: pixel_aspect })),
  ...own.numbers.map((aspect) => ({ idc: "your own", aspect })),
];

interface FrameRow {
  name: string;
  sort: string;
  sides: number[];
  aspect: string;
  source: string;
}

const frames = (of: Published, own: Own): FrameRow[] => [
  ...of.frames.flatMap(({ title, frames: within }) =>
    within.map(({ source, values }) => ({
      name: values.name,
      sort: title,
      sides: values.geometry.raster,
      aspect: String(values.geometry.pixel_aspect),
      source,
    })),
  ),
  ...own.sizes.map((sides) => ({
    name: "your own",
    sort: "",
    sides: [...sides],
    aspect: "1",
    source: "",
  })),
];

/** The frames, and spheres for two eyes, one above the other. */
const decoded = (of: Published, own: Own) =>
  frames(of, own).flatMap(({ name, sort, sides }) => {
    const [width = 0, height = 0] = sides;
    const eyes = { name: `${name}, two eyes`, sides: [width, height * 2] };
    return sort.startsWith("Spheres") ? [{ name, sides }, eyes] : [{ name, sides }];
  });

export const KINDS: readonly Kind[] = [
  {
    id: "ratio",
    name: "Ratio by container",
    asks: "How big is each ratio in each container?",
    reads:
      "The largest frame of the ratio inside the container, the side that follows rounded down to even pixels; below it that side before rounding and the error of the ratio.",
    adds: { says: "a ratio such as 2.55, or a container such as 5120x2700", sizes: true, numbers: true },
    requests: (of, own) =>
      ratios(of, own).flatMap(({ ratio }) =>
        containers(own).map((container) => request({ kind: "extraction", container, ratio })),
      ),
    lay: (of, own, _, results) => ({
      columns: [
        { name: "ratio", more: "used for" },
        ...containers(own).map((container) => ({ name: raster(container) })),
      ],
      rows: ratios(of, own).map(({ ratio, name, source }, at) => ({
        key: `${ratio} ${at}`,
        cells: [
          { ...asRatio(ratio, asNumber(ratio), name), source },
          ...grid<Schemas["ExtractionResult"]>(results, containers(own).length, at).map(
            (answer, column): Cell => {
              const container = containers(own)[column] ?? [0, 0];
              const [width, height] = answer.exact;
              const exact = answer.frame[0] === container[0] ? height?.value : width?.value;
              return {
                shown: raster(answer.frame),
                more: `${short(exact ?? 0, 2)} · ${error(answer.deviation.value)}`,
                sorts: (answer.frame[0] ?? 0) * (answer.frame[1] ?? 0),
                to: rule("ratio", { ...sizeEntries(container), ratio }),
              };
            },
          ),
        ],
      })),
    }),
  },
  {
    id: "squeeze",
    name: "Squeeze by sensor",
    asks: "Which lens wastes least on which sensor?",
    reads:
      "The ratio that is shown once the squeeze is undone; below it the part of the sensor that the target keeps. ● marks the lens that keeps most of each sensor. Sensors and lenses: common practice.",
    adds: { says: "a sensor such as 5000x4000, or a squeeze such as 1.65", sizes: true, numbers: true },
    target: true,
    requests: (of, own, target) =>
      sensors(of, own).flatMap(({ sides }) =>
        lenses(of, own).map((squeeze) =>
          request({
            kind: "desqueeze",
            raster: sides,
            squeeze,
            target_ratio: target.trim() || null,
          }),
        ),
      ),
    lay: (of, own, target, results) => ({
      columns: [
        { name: "sensor", more: "stored pixels" },
        ...lenses(of, own).map((squeeze) => ({
          name: `${short(asNumber(squeeze), 3)}×`,
          more: squeeze.includes("/") ? squeeze : "",
        })),
      ],
      rows: sensors(of, own).map(({ name, sides }, at) => {
        const answers = grid<Schemas["DesqueezeResult"]>(results, lenses(of, own).length, at);
        const most = Math.max(...answers.map(({ target: cut }) => cut?.kept.value ?? 0));
        return {
          key: `${name} ${sides.join()}`,
          cells: [
            { ...size(sides), shown: name, more: raster(sides), sorts: (sides[0] ?? 0) / (sides[1] ?? 1) },
            ...answers.map((answer, column): Cell => {
              const kept = answer.target?.kept.value;
              return {
                shown: short(answer.ratio.value, 3),
                more: kept === undefined ? undefined : `keeps ${percent(kept)} %`,
                sorts: kept ?? answer.ratio.value,
                best: kept !== undefined && kept === most,
                to: rule("squeeze", {
                  ...sizeEntries(sides),
                  squeeze: lenses(of, own)[column] ?? "1",
                  target: target.trim(),
                }),
              };
            }),
          ],
        };
      }),
    }),
  },
  {
    id: "pixels",
    name: "Pixel shapes",
    asks: "What does each pixel shape show?",
    reads:
      "ITU-T H.264, Table E-1 (aspect_ratio_idc). 704 columns hold the picture of ITU-R BT.601 at 4:3 or 16:9; all 720 show a little more. On square pixels all lines are kept and the width is rounded to the nearest even number.",
    adds: { says: "a pixel aspect such as 59:54", sizes: false, numbers: true },
    requests: (of, own) =>
      shapes(of, own).flatMap(({ aspect }) =>
        SD.map((sides) =>
          request({
            kind: "desqueeze",
            raster: sides,
            pixel_aspect: aspect,
            round: "nearest",
          }),
        ),
      ),
    lay: (of, own, _, results) => ({
      columns: [
        { name: "idc" },
        { name: "pixel aspect", more: "width : height" },
        { name: "704×576 shows" },
        { name: "704×480 shows" },
        { name: "720×576", more: "in square pixels" },
        { name: "720×480", more: "in square pixels" },
      ],
      rows: shapes(of, own).map(({ idc, aspect }, at) => {
        const answers = grid<Schemas["DesqueezeResult"]>(results, SD.length, at);
        const to = (column: number) => rule("pixels", { ...sizeEntries(SD[column] ?? [720, 576]), aspect });
        return {
          key: `${idc} ${aspect}`,
          cells: [
            { shown: idc, sorts: Number(idc) || 99 },
            asRatio(aspect, asNumber(aspect)),
            ...answers.map(({ ratio, widened }, column): Cell => {
              const shows = { shown: short(ratio.value, 4), more: asPair(ratio.exact) };
              const cell = column < 2 ? { ...shows, sorts: ratio.value } : size(widened.frame);
              return { ...cell, to: to(column) };
            }),
          ],
        };
      }),
    }),
  },
  {
    id: "frames",
    name: "Published frames",
    asks: "Which frames are published, and where?",
    reads: "Width over height as seen. House frames are in the frame library of a project.",
    adds: { says: "a frame such as 5120x2160", sizes: true, numbers: false },
    requests: (of, own) =>
      frames(of, own).map(({ sides, aspect }) =>
        request({
          kind: "desqueeze",
          raster: sides,
          pixel_aspect: aspect,
        }),
      ),
    lay: (of, own, _, results) => ({
      columns: [
        { name: "frame", words: true },
        { name: "pixels" },
        { name: "pixel aspect" },
        { name: "ratio" },
        { name: "kind", words: true },
        { name: "defined in", words: true },
      ],
      rows: frames(of, own).map(({ name, sort, sides, aspect, source }, at) => {
        const answer = results[at] as Schemas["DesqueezeResult"];
        const to =
          aspect === "1"
            ? rule("ratio", sizeEntries(sides))
            : rule("pixels", { ...sizeEntries(sides), aspect });
        return {
          key: `${name} ${sides.join()}`,
          cells: [
            word(name),
            { ...size(sides), to },
            { shown: aspect, sorts: asNumber(aspect) },
            {
              shown: short(answer.ratio.value, 3),
              more: asPair(answer.ratio.exact),
              sorts: answer.ratio.value,
            },
            word(sort),
            word(source),
          ],
        };
      }),
    }),
  },
  {
    id: "levels",
    name: "Decoder levels",
    asks: "Which level does a frame need at a rate?",
    reads:
      "Above: ITU-T H.264, Table A-1; below: ITU-T H.265, Tables A.8 and A.9 (from memory). The lowest level that takes it, progressive; – where none does.",
    adds: { says: "a frame such as 5760x5760", sizes: true, numbers: false },
    requests: (of, own) =>
      decoded(of, own).flatMap(({ sides }) =>
        RATES.map((rate) => request({ kind: "levels", frame: sides, rate })),
      ),
    lay: (of, own, _, results) => ({
      columns: [
        { name: "frame", words: true },
        { name: "pixels" },
        ...RATES.map((rate) => ({ name: `${rate} a second` })),
      ],
      rows: decoded(of, own).map(({ name, sides }, at) => ({
        key: `${name} ${sides.join()}`,
        cells: [
          word(name),
          size(sides),
          ...grid<Schemas["LevelsResult"]>(results, RATES.length, at).map(
            ({ h264, h265 }, column): Cell => ({
              shown: h264 ?? "–",
              more: `H.265 ${h265 ?? "–"}`,
              sorts: Number(h264 ?? 99),
              to: rule("decoder", { ...sizeEntries(sides), rate: RATES[column] ?? "30" }),
            }),
          ),
        ],
      })),
    }),
  },
  {
    id: "safe",
    name: "Safe areas",
    asks: "How far from the edge is safe?",
    reads: "The area, centred; below it the distance from the left and from the top, in pixels.",
    adds: {
      says: "a percent such as 88, or a frame such as 2048x1080",
      sizes: true,
      numbers: true,
    },
    requests: () => [],
    lay: (of) => ({
      columns: [
        { name: "area", words: true },
        { name: "of both sides" },
        ...(of.safe_areas[0]?.on ?? []).map(({ frame }) => ({ name: `on ${raster(frame)}` })),
        { name: "defined in", words: true },
      ],
      rows: of.safe_areas.map(({ name, percent: part, on, source }, at) => ({
        key: `${name} ${at}`,
        cells: [
          word(name),
          { shown: `${typed(part.value)} %`, sorts: part.value },
          ...on.map(
            ({ rect }): Cell => ({
              shown: `${short(rect.width.value)}×${short(rect.height.value)}`,
              more: `${short(rect.x.value)}, ${short(rect.y.value)}`,
              sorts: rect.width.value,
            }),
          ),
          word(source),
        ],
      })),
    }),
  },
];
