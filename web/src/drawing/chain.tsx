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
  down?: boolean;
}

interface Laid extends Link {
  label: string;
  /** 0 for a figure in its line, then rows beside it. */
  lane: number;
}

/** Which row each figure takes, so that none lies over another. */
export function lanes(links: { from: number; to: number; label: string }[]): number[] {
  // How far each row beside the line is taken.
  const ends: number[] = [];
  return links.map(({ from, to, label }) => {
    const width = widthOf(label);
    if (width < to - from - 12) return 0;
    const [first, last] = [(from + to - width) / 2, (from + to + width) / 2];
    let lane = ends.findIndex((end) => end <= first);
    if (lane < 0) lane = ends.length;
    ends[lane] = last;
    return lane + 1;
  });
}

/** Measures one after the other; figures that do not fit in their line avoid each other beside it. */
export function Chain({ links, at, down }: Props) {
  const drawn = links
    .filter(({ length }) => length && length.value !== 0)
    .map((link) => ({ ...link, label: `${link.name} ${short(link.length?.value ?? 0)}`.trim() }));
  const rows = lanes(drawn);
  const laid: Laid[] = drawn.map((link, place) => ({ ...link, lane: rows[place] ?? 0 }));
  const Measure = down ? MeasureDown : MeasureAcross;
  return laid.map(({ from, to, label, ink, length, lane }, place) => (
    <Measure
      // biome-ignore lint/suspicious/noArrayIndexKey: the links of a chain keep their places
      key={place}
      from={from}
      to={to}
      at={at}
      label={label}
      lane={lane}
      ink={ink}
      exact={length && fraction(length)}
    />
  ));
}
