import { type KeyboardEvent, useId, useState } from "react";
import { Form } from "react-bootstrap";
import { meanings } from "./spelling";
import { useTyped } from "./useTyped";

interface Common {
  label: string;
  wrong?: string | undefined;
  onFocus?: (() => void) | undefined;
  className?: string | undefined;
}

interface TextProps extends Common {
  value: string;
  unit?: string | undefined;
  numeric?: boolean | undefined;
  autoFocus?: boolean | undefined;
  /** What an empty field means. */
  empty?: string | undefined;
  /** What is to be said of the value, beside the label. */
  aside?: string | undefined;
  onText: (text: string) => void;
  /** Keep what was typed: Enter, or leaving the field. */
  onDone?: (() => void) | undefined;
  /** Keep what was typed: Enter alone. */
  onEnter?: (() => void) | undefined;
  /** Back to what was there. */
  onEscape?: (() => void) | undefined;
}

/** One value, edited where it stands; what is wrong with it is said below it. */
export function Field({
  label,
  value,
  unit,
  numeric,
  wrong,
  className,
  autoFocus,
  empty,
  aside,
  onFocus,
  onText,
  onDone,
  onEnter,
  onEscape,
}: TextProps) {
  const id = useId();
  const [left, setLeft] = useState(false);
  const typed = useTyped(value, unit);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      setLeft(true);
      onDone?.();
      onEnter?.();
    }
    if (event.key === "Escape" && onEscape) {
      event.stopPropagation();
      typed.forget();
      onEscape();
    }
  };
  return (
    <Form.Group controlId={id} className={`field ${wrong ? "bad" : ""} ${className ?? ""}`}>
      <Form.Label>{label}</Form.Label>
      {aside && <small className="said">{aside}</small>}
      <div className="entry">
        <Form.Control
          className={numeric ? "num" : ""}
          value={typed.shown}
          placeholder={empty}
          autoComplete="off"
          autoFocus={autoFocus}
          spellCheck={false}
          inputMode={numeric ? "decimal" : "text"}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onChange={({ target }) => onText(numeric ? typed.take(target.value) : target.value)}
          onFocus={() => {
            setLeft(false);
            onFocus?.();
          }}
          onKeyDown={onKeyDown}
          onBlur={() => {
            setLeft(true);
            typed.forget();
            onDone?.();
          }}
        />
        {unit && <span className="unit">{unit}</span>}
      </div>
      <Wrong id={id} text={wrong} said={left} />
      {wrong && numeric && <Meant text={value} onText={onText} />}
    </Form.Group>
  );
}

/** What was most likely meant, one click away. */
export function Meant({ text, onText }: { text: string; onText: (text: string) => void }) {
  return meanings(text).map(({ value, says }) => (
    // Before the field loses the focus and takes what stands in it.
    <button
      key={value}
      type="button"
      className="meant"
      onMouseDown={(event) => event.preventDefault()}
      onClick={() => onText(value)}
    >
      {says}
    </button>
  ));
}

interface ChoiceProps extends Common {
  value: string;
  options: readonly (readonly [string, string])[];
  onChoose: (value: string) => void;
}

/** One value out of a few. */
export function Choice({ label, value, options, wrong, className, onFocus, onChoose }: ChoiceProps) {
  const id = useId();
  return (
    <Form.Group controlId={id} className={`field ${wrong ? "bad" : ""} ${className ?? ""}`}>
      <Form.Label>{label}</Form.Label>
      <div className="entry">
        <Form.Select value={value} onFocus={onFocus} onChange={(event) => onChoose(event.target.value)}>
          {options.map(([each, name]) => (
            <option key={each} value={each}>
              {name}
            </option>
          ))}
        </Form.Select>
      </div>
      <Wrong id={id} text={wrong} />
    </Form.Group>
  );
}

/** What is wrong. It is spoken once, when the field is left, and not at every key. */
function Wrong({ id, text, said = true }: { id: string; text?: string | undefined; said?: boolean }) {
  if (!text) return null;
  return (
    <Form.Control.Feedback
      key={String(said)}
      type="invalid"
      className="wrong"
      id={`${id}-wrong`}
      role={said ? "alert" : undefined}
    >
      {text}
    </Form.Control.Feedback>
  );
}

/** A whole number as JSON has it; other text stays text, so that the server can say what is right. */
export function whole(text: string): number {
  const digits = text.trim();
  return (/^\d{1,9}$/.test(digits) ? Number(digits) : digits) as number;
}
