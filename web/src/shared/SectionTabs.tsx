import Nav from "react-bootstrap/Nav";
import { NavLink } from "react-router";

/** The pages of one section, as tabs under its title. */
export function SectionTabs({ name, tabs }: { name: string; tabs: readonly (readonly [string, string])[] }) {
  return (
    <Nav variant="underline" as="nav" aria-label={name} className="mb-3 no-print">
      {tabs.map(([path, title]) => (
        <Nav.Item key={path}>
          <NavLink end className="nav-link" to={path}>
            {title}
          </NavLink>
        </Nav.Item>
      ))}
    </Nav>
  );
}
