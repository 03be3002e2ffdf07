import { type ReactNode, useEffect, useRef } from "react";
import { Breadcrumb } from "react-bootstrap";
import { Link } from "react-router";

/** Whether a screen was shown before in this visit: the first one takes no focus. */
let visited = false;

/** Names the window, and gives the focus to the heading when somebody comes from another screen. */
export function useTitle(title: string) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    document.title = `${title} · Ratiomet`;
  }, [title]);
  useEffect(() => {
    // A field of the screen that wants it first keeps the focus.
    const free = document.activeElement === document.body || document.activeElement === null;
    if (visited && free) heading.current?.focus({ preventScroll: true });
    visited = true;
  }, []);
  return heading;
}

interface Props {
  title: string;
  /** What the page is called in the window's title, where that is more than its heading. */
  window?: string | undefined;
  /** The screen above this one. */
  up?: { to: string; name: string };
  note?: ReactNode | undefined;
  /** What stands beside the title. */
  beside?: ReactNode | undefined;
  /** The commands of the screen. */
  children?: ReactNode | undefined;
}

/** The head of every screen: its title, also of the window, and what can be done with all of it. */
export function ScreenHead({ title, window: inWindow = title, up, note, beside, children }: Props) {
  const heading = useTitle(inWindow);
  return (
    <div className="page-head">
      {up && (
        <Breadcrumb aria-label="Above this screen">
          <Breadcrumb.Item linkAs={Link} linkProps={{ to: up.to }}>
            {up.name}
          </Breadcrumb.Item>
        </Breadcrumb>
      )}
      <h1 ref={heading} tabIndex={-1}>
        {title}
      </h1>
      {note && <span className="quiet">{note}</span>}
      {beside}
      {children && <div className="end">{children}</div>}
    </div>
  );
}
