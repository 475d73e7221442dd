import Nav from "react-bootstrap/Nav";
import { Link, useLocation } from "react-router";

/** The pages of one section, as tabs under its title; `here` names the tab that a page without one of its own belongs to. */
export function SectionTabs({
  name,
  tabs,
  here,
}: {
  name: string;
  tabs: readonly (readonly [string, string])[];
  here?: string;
}) {
  const { pathname } = useLocation();
  const at = here ?? pathname;
  return (
    <Nav variant="underline" as="nav" aria-label={name} className="mb-3 no-print">
      {tabs.map(([path, title]) => (
        <Nav.Item key={path}>
          <Link
            className={`nav-link ${path === at ? "active" : ""}`}
            aria-current={path === at ? "page" : undefined}
            to={path}
          >
            {title}
          </Link>
        </Nav.Item>
      ))}
    </Nav>
  );
}
