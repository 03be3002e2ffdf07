import type { Exact } from "../api/client";
import { type Ink, MeasureAcross, MeasureDown, widthOf } from "./measure";
import { fraction, short } from "./numbers";

/** One length of a chain of measures along one line. */
export interface Link {
  from: number;
  to: number;
  length: Exact | undefined;
  name: string;
  ink: Ink;
}

interface Props {
  links: Link[];
  /** Where the line stands on the other axis. */
  at: number;
  down?: boolean | undefined;
  /** The ends between which figures stay, so that none reaches round a corner. */
  between: readonly [number, number];
}

interface Standing {
  /** 0 for a figure in its line, then rows beside it. */
  lane: number;
  /** Where its middle stands along the line. */
  middle: number;
}

/** Where each figure stands, so that none lies over another. */
export function standing(
  links: { from: number; to: number; label: string }[],
  [low, high]: readonly [number, number],
): Standing[] {
  // How far each row beside the line is taken.
  const ends: number[] = [];
  return links.map(({ from, to, label }) => {
    const width = widthOf(label);
    const own = (from + to) / 2;
    if (width < to - from - 12) return { lane: 0, middle: own };
    const held = Math.max(low + width / 2, Math.min(own, high - width / 2));
    const middle = width > high - low ? (low + high) / 2 : held;
    let lane = ends.findIndex((end) => end <= middle - width / 2);
    if (lane < 0) lane = ends.length;
    ends[lane] = middle + width / 2;
    return { lane: lane + 1, middle };
  });
}

/** Measures one after the other; figures that do not fit in their line avoid each other beside it. */
export function Chain({ links, at, down, between }: Props) {
  const drawn = links
    .filter(({ length }) => length && length.value !== 0)
    .map((link) => ({ ...link, label: `${link.name} ${short(link.length?.value ?? 0)}`.trim() }));
  const places = standing(drawn, between);
  const Measure = down ? MeasureDown : MeasureAcross;
  return drawn.map(({ from, to, label, ink, length }, place) => (
    <Measure
      // biome-ignore lint/suspicious/noArrayIndexKey: the links of a chain keep their places
      key={place}
      from={from}
      to={to}
      at={at}
      label={label}
      {...places[place]}
      ink={ink}
      exact={length && fraction(length)}
    />
  ));
}
