import type { Source, SourceValues } from "../../api/client";

type Aspect = NonNullable<SourceValues["origin"]>["said"][number]["of"];

/** What each value is called on the sheet of a source. */
const NAMES: Record<Aspect, string> = {
  raster: "stored size",
  pixel_aspect: "pixel aspect",
  squeeze: "squeeze",
  insets: "insets",
  rotation: "rotation",
  rate: "frame rate",
  scan: "scan",
  signal_range: "signal range",
  projection: "picture",
};

/** Where the values of a source were read, and which of them were typed over since. */
export function Origin({ source: { values, corrected } }: { source: Source }) {
  const { origin } = values;
  if (!origin) return null;
  return (
    <section className="origin" aria-label="Read from">
      <h3>
        Read from <span className="num">{origin.file}</span>
      </h3>
      <dl>
        {origin.said.map(({ of, value, by }) => {
          const typed = corrected.includes(of);
          return (
            <div key={of} data-typed={typed || undefined}>
              <dt>{NAMES[of]}</dt>
              <dd>
                <span className="num">{value}</span> <span className="quiet">{by}</span>
                {typed && <b> edited since</b>}
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
