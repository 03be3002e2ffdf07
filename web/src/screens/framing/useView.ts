import { useState } from "react";
import { here, keep, kept } from "../../kept";

/** What is drawn over the frame to help the eye. */
export interface Guides {
  safe: boolean;
  ratios: boolean;
  thirds: boolean;
}

/** The corners of a frame, as parts of its width and height. */
export const CORNERS = {
  "top left": [0, 0],
  "top right": [1, 0],
  "bottom left": [0, 1],
  "bottom right": [1, 1],
} as const;

export type Corner = keyof typeof CORNERS;

/** Screen pixels per delivery pixel, in percent. */
export const MAGNIFICATIONS: readonly number[] = [100, 200, 400, 800];

/** How the frame is looked at. It moves nothing: that is what the framing's zoom does. */
export interface View {
  corner: Corner | null;
  percent: number;
}

const KEPT = "ratiomet.guides";

const FIRST: Guides = { safe: true, ratios: true, thirds: false };

function isGuides(value: unknown): value is Guides {
  const guides = value as Guides | null;
  return (
    guides !== null && Object.keys(FIRST).every((name) => typeof guides[name as keyof Guides] === "boolean")
  );
}

/** The guides, kept from visit to visit, and the view. */
export function useView() {
  const [guides, setGuides] = useState(() => kept(here, KEPT, FIRST, isGuides));
  const [view, setView] = useState<View>({ corner: null, percent: 800 });
  const corners = [null, ...Object.keys(CORNERS)] as (Corner | null)[];
  return {
    guides,
    setGuides: (next: Guides) => {
      keep(here, KEPT, next);
      setGuides(next);
    },
    view,
    setView,
    /** The whole frame, then one corner after the other. */
    nextCorner: () =>
      setView((now) => ({
        ...now,
        corner: corners[(corners.indexOf(now.corner) + 1) % corners.length] ?? null,
      })),
    nextPercent: () =>
      setView((now) => {
        const at = MAGNIFICATIONS.indexOf(now.percent);
        return { ...now, percent: MAGNIFICATIONS[(at + 1) % MAGNIFICATIONS.length] ?? 100 };
      }),
  };
}
