import type { ReactNode } from "react";
import { Alert } from "react-bootstrap";

interface Props {
  /** Spoken at once, where something is refused or gone; otherwise when there is a pause, or not at all. */
  role?: "alert" | "status" | undefined;
  /** In a single line among other things. */
  slim?: boolean | undefined;
  className?: string | undefined;
  children: ReactNode;
}

/** Something to know, in its place on the page. */
export function Notice({ role, slim, className, children }: Props) {
  return (
    <Alert
      variant="notice"
      transition={false}
      role={role}
      className={["notice", slim && "slim", className].filter(Boolean).join(" ")}
    >
      {children}
    </Alert>
  );
}
