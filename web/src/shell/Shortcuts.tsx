import { Modal } from "react-bootstrap";
import { FOLLOW_KEY, METHODS } from "./methods";

const GROUPS: { title: string; keys: [string, string][] }[] = [
  {
    title: "Everywhere in a project",
    keys: [
      ["/", "find a source, a frame, a conversion, an action"],
      ["U", "undo; also Ctrl Z"],
      ["⇧ U", "redo; also Ctrl Y"],
      ["?", "this sheet"],
    ],
  },
  {
    title: "On the board",
    keys: [
      ["← → ↑ ↓", "move; past the first row or column stand the heads"],
      ["⇧ arrows", "pick a range"],
      ["Ctrl A", "pick all that is shown"],
      ["Home End", "first and last frame of a source"],
      ["PgUp PgDn", "a page of sources up or down"],
      ["C G", "take a framing, give it to what is picked"],
      ["D", "rates instead of frames"],
      ["Enter", "open the framing"],
    ],
  },
  {
    title: "In a list",
    keys: [
      ["↑ ↓", "move; with ⇧ pick a range"],
      ["Ctrl A", "pick all that is shown"],
      ["K", "pick all of the same kind (footage)"],
      ["C G", "take a treatment, give it (footage)"],
      ["N", "a new one"],
    ],
  },
  {
    title: "In a framing",
    keys: [
      ["← → ↑ ↓", "move the picture a pixel; with ⇧ ten, with Ctrl the frame's chroma step"],
      ["+ −", "push in and out by a hundredth"],
      [", .", "to the next clean size below, above"],
      ["drag", "the picture or its window; ⇧ keeps an axis, Ctrl rests nowhere"],
      ["wheel", "push in and out about the pointer; two fingers do the same"],
      ["[ ] { }", "the frame, the source before and after"],
      ["M", "the same place of the picture as in the conversion before"],
      ["P F", "pin this framing; flick to the one last looked at and back"],
      ["E S O", "all frames on the source; mark the subject; as stored"],
      ["V I", "the corners of the frame, with ⇧ larger; thirds"],
      ["Esc", "back to the board"],
    ],
  },
  {
    title: "In a field",
    keys: [
      ["Enter", "keep what you typed"],
      ["Esc", "back to what was there"],
    ],
  },
];

export function Shortcuts({ show, onHide }: { show: boolean; onHide: () => void }) {
  const methods: [string, string][] = [
    ...METHODS.map(({ key, name, does }) => [key.toUpperCase(), `${name}: ${does}`] as [string, string]),
    [FOLLOW_KEY.toUpperCase(), "drop what is set here and follow again"],
  ];
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys-title" size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title" as="h2">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="pair">
        {[{ title: "Methods: of a conversion, of what is picked, of a head", keys: methods }, ...GROUPS].map(
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
