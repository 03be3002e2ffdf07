import { createContext, type ReactNode, useCallback, useContext, useMemo, useRef, useState } from "react";
import { Button, Toast } from "react-bootstrap";
import { Refused } from "../api/client";

interface Notice {
  id: number;
  text: string;
  action?: { label: string; run: () => void };
}

interface Notices {
  tell: (text: string, action?: Notice["action"]) => void;
  /** Says in words why something was not done. */
  tellFailure: (what: string, error: unknown) => void;
}

const Context = createContext<Notices>({ tell: () => {}, tellFailure: () => {} });

export const useNotices = () => useContext(Context);

/** Long enough to read, and to reach for undo. */
const SHOWN_FOR = 12_000;

export function failureText(error: unknown): string {
  if (error instanceof Refused) return `${error.problem.detail} ${error.problem.hint}`;
  return "The server does not answer. Check that it is running; nothing was changed.";
}

export function NoticesProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<Notice[]>([]);
  const next = useRef(1);
  const close = useCallback((id: number) => setNotices((all) => all.filter((each) => each.id !== id)), []);
  const tell = useCallback<Notices["tell"]>((text, action) => {
    const id = next.current++;
    setNotices((all) => [...all.slice(-1), { id, text, action }]);
  }, []);
  const value = useMemo<Notices>(
    () => ({ tell, tellFailure: (what, error) => tell(`${what}: ${failureText(error)}`) }),
    [tell],
  );
  return (
    <Context value={value}>
      {children}
      <section className="toasts" aria-label="Notices" aria-live="polite">
        {notices.map(({ id, text, action }) => (
          <Toast key={id} onClose={() => close(id)} autohide delay={SHOWN_FOR}>
            <Toast.Body>
              <span>{text}</span>
              {action && (
                <Button
                  size="sm"
                  variant="plain"
                  onClick={() => {
                    action.run();
                    close(id);
                  }}
                >
                  {action.label}
                </Button>
              )}
              <Button
                size="sm"
                variant="plain"
                className="ms-auto"
                aria-label="Close"
                onClick={() => close(id)}
              >
                ×
              </Button>
            </Toast.Body>
          </Toast>
        ))}
      </section>
    </Context>
  );
}
