import { useId } from "react";
import { Form } from "react-bootstrap";

interface Props {
  label: string;
  /** What a keeper of passwords takes it for. */
  kind: "username" | "current-password" | "new-password";
  value: string;
  autoFocus?: boolean;
  onText: (text: string) => void;
}

/** A name or a password, which the browser may fill in. */
export function Credential({ label, kind, value, autoFocus, onText }: Props) {
  const id = useId();
  return (
    <Form.Group controlId={id} className="field mb-3">
      <Form.Label>{label}</Form.Label>
      <div className="entry">
        <Form.Control
          required
          autoFocus={autoFocus}
          type={kind === "username" ? "text" : "password"}
          autoComplete={kind}
          spellCheck={false}
          value={value}
          onChange={(event) => onText(event.target.value)}
        />
      </div>
    </Form.Group>
  );
}

/** Why it was not taken. */
export function NotTaken({ why }: { why: string | undefined }) {
  if (!why) return null;
  return (
    <p className="not-taken" role="alert">
      {why}
    </p>
  );
}
