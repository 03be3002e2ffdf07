import { Modal } from "react-bootstrap";
import { FOLLOW_KEY, METHODS } from "./methods";

const GROUPS: { title: string; keys: [string, string][] }[] = [
  {
    title: "On the board",
    keys: [
      ["← → ↑ ↓", "move from crossing to crossing"],
      ["Home End", "first and last frame of a source"],
      ["PgUp PgDn", "a page of sources up or down"],
      ["Enter", "open the framing"],
    ],
  },
  {
    title: "In a framing",
    keys: [
      ["Esc", "back to the board"],
      ["[ ]", "the frame before, the frame after"],
      ["{ }", "the source before, the source after"],
    ],
  },
  {
    title: "In a field",
    keys: [
      ["Enter", "keep what you typed"],
      ["Esc", "back to what was there"],
    ],
  },
  { title: "Everywhere", keys: [["?", "this sheet"]] },
];

export function Shortcuts({ show, onHide }: { show: boolean; onHide: () => void }) {
  const methods: [string, string][] = [
    ...METHODS.map(({ key, name, does }) => [key.toUpperCase(), `${name}: ${does}`] as [string, string]),
    [FOLLOW_KEY.toUpperCase(), "follow the frame's own method again"],
  ];
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys-title" size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title" as="h2">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="pair">
        {[{ title: "Methods, on the board and in a framing", keys: methods }, ...GROUPS].map(
          ({ title, keys }) => (
            <section key={title}>
              <h3>{title}</h3>
              <dl>
                {keys.map(([key, does]) => (
                  <div key={key} className="d-flex gap-2 py-1">
                    <dt>
                      <kbd className="key">{key}</kbd>
                    </dt>
                    <dd className="m-0">{does}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ),
        )}
      </Modal.Body>
    </Modal>
  );
}
