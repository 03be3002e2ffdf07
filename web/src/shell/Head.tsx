import { type ReactNode, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, NavLink } from "react-router";
import { useLighting } from "./lighting";
import { Shortcuts } from "./Shortcuts";
import { useKeys } from "./useKeys";

const PAGES = [
  { at: "footage", name: "Footage" },
  { at: "deliveries", name: "Deliveries" },
  { at: "board", name: "Board" },
  { at: "handoff", name: "Hand-off" },
];

interface Props {
  project?: { id: number; name: string };
  /** What can be done everywhere in a project. */
  tools?: ReactNode;
}

/** The head of every page: what this is, the path through the work, light and help. */
export function Head({ project, tools }: Props) {
  const { lighting, turn } = useLighting();
  const [help, setHelp] = useState(false);
  useKeys((key) => {
    if (key === "?") setHelp(true);
    return key === "?";
  });
  return (
    <header className="head">
      <div className="head-title">
        <Link to="/" className="mark">
          Ratiomet
        </Link>
        {project && <span className="of">{project.name}</span>}
      </div>
      <nav className="path" aria-label="The path through the work">
        {project ? (
          PAGES.map(({ at, name }) => (
            <NavLink key={at} to={`/projects/${project.id}/${at}`}>
              {name}
            </NavLink>
          ))
        ) : (
          <NavLink to="/" end>
            Projects
          </NavLink>
        )}
        <NavLink to="/slide-rule" className="beside">
          Slide rule
        </NavLink>
        <NavLink to="/tables" className="beside also">
          Tables
        </NavLink>
      </nav>
      <div className="head-tools">
        {tools}
        <Button variant="plain" onClick={turn} title="Paper by day, dark for grading rooms">
          Light: {lighting}
        </Button>
        <Button variant="plain" onClick={() => setHelp(true)} aria-keyshortcuts="?">
          Keys <kbd>?</kbd>
        </Button>
        <Link to="/about" className="btn btn-plain">
          About
        </Link>
      </div>
      <Shortcuts show={help} onHide={() => setHelp(false)} />
    </header>
  );
}
