import { Button, Form, Modal } from "react-bootstrap";
import { Link, useLocation, useNavigate } from "react-router";
import { COMMANDS, type Command, entry, isSingle, PLACES, shown } from "../keys/table";
import { useSingleKeys } from "../keys/useCommands";
import { addressOf, pageAt } from "../manual/manual";
import { PageText } from "../manual/PageText";
import { beginTour } from "../manual/Tour";
import { useMay } from "../people/may";
import { useElsewhere } from "./useElsewhere";

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

/** The page of the manual for this screen, and every key by the place where it holds. */
export function HelpSheet({ show, onHide }: { show: boolean; onHide: () => void }) {
  const [single, setSingle] = useSingleKeys();
  const plans = useMay("plan");
  const navigate = useNavigate();
  const { pathname } = useLocation();
  useElsewhere(onHide);
  const page = pageAt(pathname);
  const project = Number(pathname.match(/^\/projects\/(\d+)/)?.[1] ?? 0);
  const tour = () => {
    beginTour(project);
    onHide();
    void navigate(`/projects/${project}/board`);
  };
  const keysAt = (place: string): [string, string][] => {
    const rows = commandsAt(place).flatMap((command): [string, string][] => {
      const { keys, does, shown: together, changes } = entry(command);
      if (changes && !plans) return [];
      const known = keys.filter((key) => single || !isSingle(key));
      return known.length === 0 ? [] : [[together ?? known.map(shown).join(", "), does]];
    });
    return place === "In a framing" ? [...rows, ...BY_HAND] : rows;
  };
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="help-title" size="lg" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="help-title" as="h2">
          {page?.title ?? "Help"}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {page && <PageText page={page} drawn={false} />}
        <p>
          <Link to={page ? addressOf(page.id) : "/manual"}>
            {page ? "Open the manual here" : "Open the manual"}
          </Link>{" "}
          {project > 0 && (
            <Button size="sm" className="ms-2" onClick={tour}>
              Take the tour
            </Button>
          )}
        </p>
        <h2 className="h5">Keys</h2>
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
