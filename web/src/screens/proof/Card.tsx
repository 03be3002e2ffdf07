import type { Box } from "../../drawing/box";
import { tip } from "../../tip";
import { Loupe } from "./Loupe";
import { type Layer, paint } from "./paint";

interface CardProps {
  letter?: string | undefined;
  title: string;
  note?: string | undefined;
  chosen?: boolean | undefined;
  onChoose?: (() => void) | undefined;
  onRemove?: (() => void) | undefined;
  layer: Layer | undefined;
  partOf: (room: { width: number; height: number }) => Box;
  onDrag: (x: number, y: number) => void;
  onWheel: (up: boolean) => void;
  onRoom?: ((room: { width: number; height: number }) => void) | undefined;
}

/** One of the pictures that are compared, magnified at the place where all of them look. */
export function Card(props: CardProps) {
  const { letter, title, note, chosen, onChoose, onRemove, layer, partOf, onDrag, onWheel, onRoom } = props;
  const name = letter ? `${letter} ${title}` : title;
  const head = (
    <>
      {letter && <b>{letter}</b>} <span className="name">{title}</span>
    </>
  );
  return (
    <section className={`sheet card-of v-${letter ?? "source"} ${chosen ? "on" : ""}`} aria-label={name}>
      <div className="card-head">
        {onChoose ? (
          <button type="button" aria-pressed={chosen} onClick={onChoose}>
            {head}
          </button>
        ) : (
          <span>{head}</span>
        )}
        {note && <small>{note}</small>}
        {onRemove && (
          <button
            type="button"
            aria-label={`Remove ${name}`}
            {...tip("Remove this variant")}
            onClick={onRemove}
          >
            ×
          </button>
        )}
      </div>
      <Loupe
        label={`${name}, magnified`}
        onRoom={onRoom}
        onDrag={onDrag}
        onWheel={onWheel}
        draw={(context, onto) => {
          if (layer) return paint(context, layer, partOf(onto), onto);
          context.clearRect(0, 0, onto.width, onto.height);
        }}
      />
      {!layer && <p className="quiet small waiting">Carrying out …</p>}
    </section>
  );
}
