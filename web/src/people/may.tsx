import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { type Session, sessionQuery } from "./session";

type Role = NonNullable<Session["role"]>;

/** Each may do what those before it may. */
const RANKS: readonly Role[] = ["look", "plan", "house"];

/** Whether whoever sits here may do what needs a role. Where nobody need be known, everybody may. */
export function useMay(role: Role): boolean {
  const { data: session } = useQuery(sessionQuery);
  if (!session?.guarded) return true;
  return RANKS.indexOf(session.role ?? "look") >= RANKS.indexOf(role);
}

interface Props {
  /** What whoever sits here must be allowed to do. */
  may: Role;
  children: ReactNode;
}

/** What is only shown to those who may use it. */
export function For({ may, children }: Props) {
  return useMay(may) ? children : null;
}

/** Values that everybody reads, and only those change who may. */
export function Fixed({ may, children }: Props) {
  return useMay(may) ? (
    children
  ) : (
    <fieldset className="fixed" disabled>
      {children}
    </fieldset>
  );
}
