import type { Conversion, Exact } from "../../api/client";
import type { components } from "../../api/schema";

type Dial = Conversion["plan"]["dial"];
type Pair = { x: Exact; y: Exact };

/** A convention in which programs ask for a placement. */
export interface Convention {
  id: components["schemas"]["ConventionName"];
  name: string;
  hint: string;
  unit?: string;
  times?: boolean;
  /** Whether one number serves both axes where they are equal. */
  scale?: boolean;
  /** Of places, in what they are told. */
  places?: "pixels" | "parts";
  /** What x and y are called. */
  axes: [string, string];
  read: (conversion: Conversion) => Pair | undefined;
  /** Which program wants it, in a sentence. */
  sentence: string;
}

/** The numbers for a program that holds the clip as it is planned. */
const dial = (name: Exclude<keyof Dial, "uncut" | "unturned">) => (conversion: Conversion) =>
  conversion.plan.dial[name];

export const CONVENTIONS: readonly Convention[] = [
  {
    id: "native_percent",
    name: "percent of native",
    hint: "squeeze set on the clip",
    unit: "%",
    scale: true,
    axes: ["across", "up"],
    read: dial("native_percent"),
    sentence:
      "For a program whose 100 % puts one line of the desqueezed picture on one line of the frame, whatever their sizes. Its middle must lie in the frame's middle at position 0.",
  },
  {
    id: "over_fit",
    name: "over fit",
    hint: "squeeze set on the clip",
    times: true,
    scale: true,
    axes: ["across", "up"],
    read: dial("over_fit"),
    sentence:
      "For a program that first fits every clip whole into the frame and calls that 1 (or 100 %): this is what to enlarge from there.",
  },
  {
    id: "over_fill",
    name: "over fill",
    hint: "squeeze set on the clip",
    times: true,
    scale: true,
    axes: ["across", "up"],
    read: dial("over_fill"),
    sentence:
      "For a program that first fills the frame with every clip, cutting two sides, and calls that 1.",
  },
  {
    id: "uncorrected",
    name: "squeeze not set",
    hint: "over fit; across, up",
    times: true,
    axes: ["across", "up"],
    read: dial("uncorrected"),
    sentence:
      "Where the squeeze or the pixel shape cannot be set on the clip: the program takes the stored pixels as square and fits them, and these two factors, across and up by themselves, make it right.",
  },
  {
    id: "centre_offset",
    places: "pixels",
    name: "centre offset",
    hint: "px right, down",
    unit: "px",
    axes: ["right", "down"],
    read: dial("centre_offset"),
    sentence:
      "The picture's middle from the frame's middle. 0, 0 is centred; some programs count upwards: turn the sign.",
  },
  {
    id: "centre_share",
    places: "parts",
    name: "centre position",
    hint: "in frame widths, heights",
    axes: ["across", "down"],
    read: ({ shares }) => shares.centre,
    sentence:
      "The picture's middle in parts of the frame, from its top left corner: 0.5, 0.5 is centred. Some programs count from the bottom: take 1 less it.",
  },
  {
    id: "top_left",
    places: "pixels",
    name: "top left corner",
    hint: "px right, down",
    unit: "px",
    axes: ["right", "down"],
    read: dial("top_left"),
    sentence:
      "The picture's own corner from the frame's corner; negative where the picture passes the frame.",
  },
  {
    id: "top_left_share",
    places: "parts",
    name: "corner position",
    hint: "in frame widths, heights",
    axes: ["across", "down"],
    read: ({ shares }) => shares.top_left,
    sentence: "The same corner in parts of the frame's width and height.",
  },
  {
    id: "window_corner",
    name: "window from",
    hint: "stored px, left, top",
    unit: "px",
    axes: ["left", "top"],
    read: ({ plan: { window } }) => (window ? { x: window.x, y: window.y } : undefined),
    sentence:
      "For a program that crops before it scales: where the cut begins, in pixels of the stored raster.",
  },
  {
    id: "window_size",
    name: "window size",
    hint: "stored px, wide, high",
    unit: "px",
    axes: ["width", "height"],
    read: ({ plan: { window } }) => (window ? { x: window.width, y: window.height } : undefined),
    sentence: "How large the cut is, in stored pixels; what is cut is then scaled to fill the picture area.",
  },
];
