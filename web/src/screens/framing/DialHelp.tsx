import { Modal } from "react-bootstrap";
import type { Conversion } from "../../api/client";
import { CONVENTIONS } from "./conventions";
import { dialled } from "./dialled";

interface Props {
  show: boolean;
  onHide: () => void;
  shown: Conversion;
  digits: number;
}

/** Which number a program wants: a sentence and a small drawing for each convention. */
export function DialHelp({ show, onHide, shown, digits }: Props) {
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="dial-help" size="xl">
      <Modal.Header closeButton>
        <Modal.Title id="dial-help" as="h2">
          Which number does my program want?
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="dial-help">
        {CONVENTIONS.map((convention) => {
          const pair = convention.read(shown);
          return (
            <section key={convention.id}>
              <Sketch id={convention.id} />
              <div>
                <h3>
                  {convention.name}{" "}
                  {pair && (
                    <span className="num">
                      {dialled(pair.x, digits)}, {dialled(pair.y, digits)}
                      {convention.unit ? ` ${convention.unit}` : ""}
                    </span>
                  )}
                </h3>
                <p>{convention.sentence}</p>
              </div>
            </section>
          );
        })}
      </Modal.Body>
    </Modal>
  );
}

/** The frame in ink, the picture in blue, and what the number measures in vermilion. */
function Sketch({ id }: { id: string }) {
  const frame = <rect className="d-edge" x="30" y="16" width="60" height="34" />;
  const picture = <rect className="d-window" x="14" y="6" width="92" height="52" />;
  const arrow = (path: string) => <path className="d-sketch" d={path} />;
  const parts: Record<string, React.ReactNode> = {
    native_percent: (
      <>
        <path className="d-pixels" d="M14 16h92M14 26h92M14 36h92M14 46h92M30 6v52M50 6v52M70 6v52M90 6v52" />
        {picture}
        {frame}
        <text x="60" y="37" textAnchor="middle">
          1 : 1
        </text>
      </>
    ),
    over_fit: (
      <>
        {picture}
        {frame}
        <rect className="d-area" x="30" y="16" width="60" height="34" />
        {arrow("M60 16V6M57 9l3-3 3 3M60 50v8M57 55l3 3 3-3")}
      </>
    ),
    over_fill: (
      <>
        {picture}
        {frame}
        <rect className="d-area" x="22" y="11" width="76" height="43" />
        {arrow("M98 33h8M103 30l3 3-3 3M22 33h-8M17 30l-3 3 3 3")}
      </>
    ),
    uncorrected: (
      <>
        <rect className="d-area" x="42" y="16" width="36" height="34" />
        {picture}
        {frame}
        {arrow("M78 33h28M103 30l3 3-3 3M60 16V6M57 9l3-3 3 3")}
      </>
    ),
    centre_offset: (
      <>
        <rect className="d-window" x="24" y="2" width="92" height="52" />
        {frame}
        {arrow("M60 33L70 28M66 27l4 1-2 4")}
        <circle className="d-dot" cx="60" cy="33" r="1.6" />
      </>
    ),
    centre_share: (
      <>
        <rect className="d-window" x="24" y="2" width="92" height="52" />
        {frame}
        {arrow("M30 28h40M67 25l3 3-3 3M70 16v12")}
      </>
    ),
    top_left: (
      <>
        {picture}
        {frame}
        {arrow("M30 16L14 6M18 5l-4 1 2 4")}
      </>
    ),
    top_left_share: (
      <>
        {picture}
        {frame}
        {arrow("M30 16H14M17 13l-3 3 3 3M14 16V6")}
      </>
    ),
    window_corner: (
      <>
        <rect className="d-edge" x="14" y="6" width="92" height="52" />
        <rect className="d-window" x="44" y="20" width="44" height="28" />
        {arrow("M14 6L44 20M40 21l4-1-2-4")}
      </>
    ),
    window_size: (
      <>
        <rect className="d-edge" x="14" y="6" width="92" height="52" />
        <rect className="d-window" x="44" y="20" width="44" height="28" />
        {arrow("M44 34h44M47 31l-3 3 3 3M85 31l3 3-3 3")}
      </>
    ),
  };
  return (
    <svg className="drawing sketch" viewBox="0 0 120 64" aria-hidden="true">
      {parts[id]}
    </svg>
  );
}
