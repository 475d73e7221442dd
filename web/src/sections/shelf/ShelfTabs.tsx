import Nav from "react-bootstrap/Nav";
import { Link } from "react-router";

const TABS = [
  ["resins", "Resins"],
  ["bottles", "Bottles"],
  ["printers", "Printers"],
  ["finish-routes", "Finish routes"],
  ["coupons", "Coupons"],
] as const;

export function ShelfTabs({ here }: { here: string }) {
  return (
    <Nav variant="underline" as="nav" aria-label="Kinds on the shelf">
      {TABS.map(([path, name]) => (
        <Nav.Item key={path}>
          <Link className={`nav-link ${path === here ? "active" : ""}`} aria-current={path === here ? "page" : undefined} to={`/shelf/${path}`}>
            {name}
          </Link>
        </Nav.Item>
      ))}
    </Nav>
  );
}
