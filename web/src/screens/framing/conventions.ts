import type { Conversion, Exact } from "../../api/client";
import type { components } from "../../api/schema";

type Dial = Conversion["plan"]["dial"];
type Pair = { x: Exact; y: Exact };

/** A convention in which programs ask for a placement. */
export interface Convention {
  id: components["schemas"]["ConventionName"];
  name: string;
  hint: string;
  unit?: string | undefined;
  times?: boolean | undefined;
  /** Whether one number serves both axes where they are equal. */
  scale?: boolean | undefined;
  /** Of places, in what they are told. */
  places?: "pixels" | "fractions" | undefined;
  /** What x and y are called. */
  axes: [string, string];
  read: (conversion: Conversion) => Pair | undefined;
  /** Which program wants it, in a sentence. */
  sentence: string;
}

/** The numbers for a program that holds the whole clip, turned: nothing cut away. */
const dial = (name: keyof Dial["uncut"]) => (conversion: Conversion) => conversion.plan.dial.uncut[name];

export const CONVENTIONS: readonly Convention[] = [
  {
    id: "native_percent",
    name: "percent of native",
    hint: "squeeze set on the clip",
    unit: "%",
    scale: true,
    axes: ["across", "up"],
    read: ({ plan }) => plan.dial.native_percent,
    sentence:
      "For a program whose 100 % puts one line of the desqueezed picture on one line of the frame, at any size, with position 0 in the middle of the frame.",
  },
  {
    id: "over_fit",
    name: "over fit",
    hint: "squeeze set on the clip",
    times: true,
    scale: true,
    axes: ["across", "up"],
    read: dial("over_fit"),
    sentence: "For a program that first fits every clip into the frame and calls that 1, or 100 %.",
  },
  {
    id: "over_fill",
    name: "over fill",
    hint: "squeeze set on the clip",
    times: true,
    scale: true,
    axes: ["across", "up"],
    read: dial("over_fill"),
    sentence: "For a program that first fills the frame with every clip and calls that 1, or 100 %.",
  },
  {
    id: "uncorrected",
    name: "if squeeze is not set",
    hint: "over fit; across, up",
    times: true,
    axes: ["across", "up"],
    read: dial("uncorrected"),
    sentence:
      "If squeeze or pixel aspect cannot be set on the clip: the program fits the stored pixels as square ones, and these two factors correct it.",
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
      "From the middle of the frame to the middle of the picture; 0, 0 is centred. If your program counts upwards, change the sign of the second number.",
  },
  {
    id: "centre_share",
    places: "fractions",
    name: "centre position",
    hint: "in frame widths, heights",
    axes: ["across", "down"],
    read: ({ shares }) => shares.centre,
    sentence:
      "The middle of the picture as a fraction of the frame, from the top left corner; 0.5, 0.5 is centred. If your program counts from the bottom, use 1 minus the second number.",
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
      "From the top left corner of the frame to that of the picture; negative where the picture is larger than the frame.",
  },
  {
    id: "top_left_share",
    places: "fractions",
    name: "corner position",
    hint: "in frame widths, heights",
    axes: ["across", "down"],
    read: ({ shares }) => shares.top_left,
    sentence: "The same corner as a fraction of the frame's width and height.",
  },
  {
    id: "window_corner",
    name: "window from",
    hint: "stored px, left, top",
    unit: "px",
    axes: ["left", "top"],
    read: ({ plan: { window } }) => (window ? { x: window.x, y: window.y } : undefined),
    sentence: "For a program that crops before it scales: where the crop begins, in stored pixels.",
  },
  {
    id: "window_size",
    name: "window size",
    hint: "stored px, wide, high",
    unit: "px",
    axes: ["width", "height"],
    read: ({ plan: { window } }) => (window ? { x: window.width, y: window.height } : undefined),
    sentence: "The size of the crop in stored pixels; it is then scaled to fill the picture area.",
  },
];
