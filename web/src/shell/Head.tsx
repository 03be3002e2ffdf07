import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Button, Nav, Navbar, Offcanvas } from "react-bootstrap";
import { Link, NavLink } from "react-router";
import { Key, keysOf } from "../keys/Key";
import { useCommands } from "../keys/useCommands";
import { Account } from "../people/Account";
import { sessionQuery } from "../people/session";
import { tip } from "../tip";
import { HelpSheet } from "./HelpSheet";
import { lastProject } from "./lastProject";
import { useLighting } from "./lighting";
import { useNarrow } from "./useNarrow";

const PAGES = [
  { at: "footage", name: "Footage" },
  { at: "deliveries", name: "Deliveries" },
  { at: "board", name: "Board" },
  { at: "handoff", name: "Hand-off" },
];

interface Props {
  project?: { id: number; name: string } | undefined;
  /** What stands beside the name of the project. */
  beside?: ReactNode | undefined;
  /** What can be done everywhere in a project. */
  tools?: ReactNode | undefined;
}

/** The head of every page: what this is, the path through the work, light and help. */
export function Head({ project, beside, tools }: Props) {
  const { lighting, turn } = useLighting();
  const [help, setHelp] = useState(false);
  const [menu, setMenu] = useState(false);
  const narrow = useNarrow("head");
  const { data: session } = useQuery(sessionQuery);
  const last = project ? undefined : lastProject();
  useCommands("application", { help: () => setHelp(true) });
  const links = project
    ? PAGES.map(({ at, name }) => ({ to: `/projects/${project.id}/${at}`, name, beside: false }))
    : [{ to: "/", name: "Projects", beside: false }];
  if (last) links.push({ to: `/projects/${last.id}/board`, name: `Back to ${last.name}`, beside: false });
  links.push(
    { to: "/slide-rule", name: "Slide rule", beside: true },
    { to: "/tables", name: "Tables", beside: true },
  );
  const light = (
    <Button
      variant="plain"
      onClick={turn}
      aria-label={`Theme: ${lighting}`}
      {...tip(`Theme: ${lighting}; dark is for grading rooms`)}
    >
      Theme
    </Button>
  );
  const helpButton = (
    <Button variant="plain" onClick={() => setHelp(true)} {...keysOf("help")}>
      Help <Key of="help" />
    </Button>
  );
  // Whoever is logged in finds it with their name.
  const about = session?.name ? (
    <Account name={session.name} role={session.role} />
  ) : (
    <Link to="/about" className="btn btn-plain">
      About
    </Link>
  );
  return (
    <Navbar as="header" className="head" expand={!narrow}>
      <a className="skip" href="#main">
        Skip to the page
      </a>
      <div className="head-title">
        <Navbar.Brand as={Link} to="/" className="mark">
          Ratiomet
        </Navbar.Brand>
        {project && <span className="of">{project.name}</span>}
        {session?.role === "look" && (
          <span
            className="look-only"
            {...tip("You can look at everything and calculate; changes are refused")}
          >
            look only
          </span>
        )}
        {beside}
      </div>
      {narrow ? (
        <>
          <Button className="menu" aria-expanded={menu} onClick={() => setMenu(true)}>
            Menu
          </Button>
          <Offcanvas show={menu} onHide={() => setMenu(false)} placement="end" aria-labelledby="menu-title">
            <Offcanvas.Header closeButton>
              <Offcanvas.Title id="menu-title">Menu</Offcanvas.Title>
            </Offcanvas.Header>
            <Offcanvas.Body className="menu-body">
              <Nav as="nav" aria-label="Screens">
                {links.map(({ to, name }) => (
                  <Nav.Link as={NavLink} key={to} to={to} end={to === "/"} onClick={() => setMenu(false)}>
                    {name}
                  </Nav.Link>
                ))}
              </Nav>
              {tools}
              {light}
              {helpButton}
              {about}
            </Offcanvas.Body>
          </Offcanvas>
        </>
      ) : (
        <>
          <Nav as="nav" className="path" aria-label="Screens">
            {links.map(({ to, name, beside }) => (
              <Nav.Link as={NavLink} key={to} to={to} end={to === "/"} className={beside ? "beside" : ""}>
                {name}
              </Nav.Link>
            ))}
          </Nav>
          <div className="head-tools">
            {tools}
            {light}
            {helpButton}
            {about}
          </div>
        </>
      )}
      <HelpSheet show={help} onHide={() => setHelp(false)} />
    </Navbar>
  );
}
