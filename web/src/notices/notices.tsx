import { createContext, type ReactNode, useCallback, useContext, useMemo, useRef, useState } from "react";
import { Button, CloseButton, Toast, ToastContainer } from "react-bootstrap";
import { Refused } from "../api/client";
import { useCommands } from "../keys/useCommands";

interface Notice {
  id: number;
  text: string;
  action?: { label: string; run: () => void } | undefined;
  /** Something was not done: it stays until it has been read. */
  failed?: boolean | undefined;
}

interface Notices {
  tell: (text: string, action?: Notice["action"]) => void;
  /** Says in words why something was not done. */
  tellFailure: (what: string, error: unknown) => void;
}

const Context = createContext<Notices>({ tell: () => {}, tellFailure: () => {} });

export const useNotices = () => useContext(Context);

/** Long enough to read, and to reach for undo. */
const SHOWN_FOR = 20_000;
/** So many are shown at once. */
const AT_ONCE = 3;

/** What was done makes room for what is done next; what failed waits its turn. */
function shownOf(notices: readonly Notice[]): Notice[] {
  const failed = notices.filter((each) => each.failed).slice(0, AT_ONCE);
  const done = notices.filter((each) => !each.failed).slice(failed.length - AT_ONCE);
  return failed.length === AT_ONCE ? failed : [...failed, ...done];
}

export function failureText(error: unknown): string {
  if (error instanceof Refused) return `${error.problem.detail} ${error.problem.hint}`;
  if (error instanceof DOMException && error.name === "TimeoutError")
    return "The server took too long to answer. Check what was done before you try again.";
  return "The server does not answer. Check that it is running; nothing was changed.";
}

export function NoticesProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<Notice[]>([]);
  const next = useRef(1);
  const region = useRef<HTMLDivElement>(null);
  const close = useCallback((id: number) => setNotices((all) => all.filter((each) => each.id !== id)), []);
  const add = useCallback((text: string, action?: Notice["action"], failed = false) => {
    const id = next.current++;
    // What is said twice is said once, with the newer way back.
    setNotices((all) => [...all.filter((each) => each.text !== text), { id, text, action, failed }]);
  }, []);
  const tell = useCallback<Notices["tell"]>((text, action) => add(text, action), [add]);
  const value = useMemo<Notices>(
    () => ({
      tell,
      tellFailure: (what, error) => add(`${what}: ${failureText(error)}`, undefined, true),
    }),
    [tell, add],
  );
  useCommands("application", {
    notices: () => {
      const buttons = region.current?.querySelectorAll<HTMLElement>("button") ?? [];
      if (buttons.length === 0) return false;
      buttons[0]?.focus();
      return true;
    },
  });
  return (
    <Context value={value}>
      {children}
      <ToastContainer
        ref={region}
        className="toasts"
        containerPosition="fixed"
        position="bottom-start"
        role="region"
        aria-label="Notices"
        aria-live="polite"
      >
        {shownOf(notices).map((notice) => (
          <Shown key={notice.id} {...notice} onClose={() => close(notice.id)} />
        ))}
      </ToastContainer>
    </Context>
  );
}

/** It stays while somebody reads it or is about to answer. */
function Shown({ text, action, failed, onClose }: Notice & { onClose: () => void }) {
  const [held, setHeld] = useState(false);
  const hold = () => setHeld(true);
  const release = () => setHeld(false);
  return (
    <Toast
      role="group"
      onClose={onClose}
      autohide={!held && !failed}
      delay={SHOWN_FOR}
      onMouseEnter={hold}
      onMouseLeave={release}
      onFocus={hold}
      onBlur={release}
    >
      <Toast.Body>
        <span>{text}</span>
        {action && (
          <Button
            size="sm"
            variant="plain"
            onClick={() => {
              action.run();
              onClose();
            }}
          >
            {action.label}
          </Button>
        )}
        <CloseButton className="ms-auto" onClick={onClose} />
      </Toast.Body>
    </Toast>
  );
}
