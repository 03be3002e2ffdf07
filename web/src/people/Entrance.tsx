import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { Modal } from "react-bootstrap";
import { onLoggedOut } from "../api/client";
import { useTitle } from "../shell/ScreenHead";
import { LogIn } from "./LogIn";
import { sessionQuery } from "./session";

/** Lets in who is known. A session that ends later is begun again over the page, where nothing typed is lost. */
export function Entrance({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const { data: session, error } = useQuery(sessionQuery);
  const [wasIn, setWasIn] = useState(false);
  useEffect(
    () => onLoggedOut(() => void client.invalidateQueries({ queryKey: sessionQuery.queryKey })),
    [client],
  );
  const isOut = session?.guarded === true && session.name === null;
  useEffect(() => {
    if (session && !isOut) setWasIn(true);
  }, [session, isOut]);
  // A server that does not answer is told of by the page itself.
  if (!session) return error ? children : null;
  if (isOut && !wasIn) return <LogInPage />;
  return (
    <>
      {children}
      {isOut && (
        <Modal show backdrop="static" keyboard={false} aria-labelledby="log-in-title" centered>
          <Modal.Header>
            <Modal.Title id="log-in-title" as="h2">
              Log in again
            </Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <p>Your session has ended. Nothing you typed is lost.</p>
            <LogIn />
          </Modal.Body>
        </Modal>
      )}
    </>
  );
}

/** Frames in each other about one middle: what this program is about. */
function Nested() {
  const ratios = [2.39, 16 / 9, 4 / 3, 1, 9 / 16];
  const area = 4200;
  return (
    <svg className="nested" viewBox="-110 -50 220 100" aria-hidden="true">
      {ratios.map((ratio, at) => {
        const [width, height] = [Math.sqrt(area * ratio), Math.sqrt(area / ratio)];
        return (
          <rect
            key={ratio}
            x={-width / 2}
            y={-height / 2}
            width={width}
            height={height}
            data-first={at === 0}
          />
        );
      })}
      <path d="M-4 0H4M0-4V4" />
    </svg>
  );
}

function LogInPage() {
  const heading = useTitle("Log in");
  return (
    <main className="log-in" id="main">
      <div className="sheet">
        <div className="sheet-head">
          <h1 ref={heading} tabIndex={-1}>
            Ratiomet
          </h1>
          <small>log in to open the projects of this house</small>
        </div>
        <Nested />
        <div className="p-3">
          <LogIn />
        </div>
      </div>
    </main>
  );
}
