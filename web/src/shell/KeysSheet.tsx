import { Form, Modal } from "react-bootstrap";
import { COMMANDS, type Command, entry, isSingle, PLACES, shown } from "../keys/table";
import { useSingleKeys } from "../keys/useCommands";

const IN_A_FIELD: [string, string][] = [
  ["Enter", "keep what you typed"],
  ["Esc", "back to what was there"],
];

const BY_HAND: [string, string][] = [
  ["drag", "the picture or its window; ⇧ keeps to one axis, Ctrl does not snap"],
  [
    "Ctrl wheel",
    "push in and out about the pointer; the wheel alone when the drawing has the focus; two fingers do the same",
  ],
];

const commandsAt = (place: string) =>
  (Object.keys(COMMANDS) as Command[]).filter((each) => entry(each).place === place);

/** Every key, by the place where it holds. */
export function KeysSheet({ show, onHide }: { show: boolean; onHide: () => void }) {
  const [single, setSingle] = useSingleKeys();
  const keysAt = (place: string): [string, string][] => {
    const rows = commandsAt(place).flatMap((command): [string, string][] => {
      const { keys, does, shown: together } = entry(command);
      const known = keys.filter((key) => single || !isSingle(key));
      return known.length === 0 ? [] : [[together ?? known.map(shown).join(", "), does]];
    });
    return place === "In a framing" ? [...rows, ...BY_HAND] : rows;
  };
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys-title" size="lg" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="keys-title" as="h2">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Switch
          id="single-keys"
          className="mb-3"
          label="Single-character keys"
          checked={single}
          onChange={(event) => setSingle(event.target.checked)}
        />
        <div className="pair">
          {[
            ...PLACES.map((title) => ({ title, keys: keysAt(title) })),
            { title: "In a field", keys: IN_A_FIELD },
          ]
            .filter(({ keys }) => keys.length > 0)
            .map(({ title, keys }) => (
              <section key={title}>
                <h3>{title}</h3>
                <dl>
                  {keys.map(([key, does]) => (
                    <div key={key + does} className="d-flex gap-2 py-1">
                      <dt>
                        <kbd className="key">{key}</kbd>
                      </dt>
                      <dd className="m-0">{does}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
        </div>
      </Modal.Body>
    </Modal>
  );
}
