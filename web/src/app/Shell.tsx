import { useEffect, useState, Suspense } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { NavLink, Outlet, useLocation, useNavigate, useSearchParams } from "react-router";
import { Finder } from "./Finder";
import { RoomNow } from "./RoomNow";
import { KeyHelp } from "./KeyHelp";
import { SECTIONS } from "./sections";
import { useShownShortcuts } from "./shortcuts";
import { TechnicianMenu } from "./TechnicianMenu";
import { Timers } from "./Timers";
import "./shell.scss";

/** Top bar in the order of work, keys of the page at the foot, finder and key list over both. */
export function Shell() {
  const [finding, setFinding] = useState<string | null>(null);
  const [helping, setHelping] = useState(false);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [unfolded, setUnfolded] = useState(false);
  useEffect(() => setUnfolded(false), [pathname]);
  const page = useShownShortcuts();
  const [search] = useSearchParams();
  const scanned = search.get("find");
  // A label's QR code leads here with what to find.
  useEffect(() => {
    if (scanned !== null) setFinding(scanned);
  }, [scanned]);
  useHotkeys("slash", (event) => {
    event.preventDefault();
    setFinding("");
  });
  useHotkeys("shift+slash", () => setHelping(true));
  useHotkeys("question", () => setHelping(true), { useKey: true });
  useHotkeys(
    SECTIONS.map((section) => `g>${section.key}`),
    (_, handler) => {
      const section = SECTIONS.find((one) => one.key === handler.keys?.at(-1));
      if (section) void navigate(section.path);
    },
  );
  useEffect(() => {
    // Coupon codes start with a digit, so a typed or scanned code never meets a letter shortcut.
    function onKey(event: KeyboardEvent) {
      const target = event.target as HTMLElement;
      const busy = target.closest("input, textarea, select, [role=slider], .modal") || event.ctrlKey || event.metaKey || event.altKey;
      if (!busy && /^[0-9]$/.test(event.key)) {
        event.preventDefault();
        setFinding(event.key);
      }
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <>
      <a href="#main" className="visually-hidden-focusable position-absolute p-2 panel">
        Skip to content
      </a>
      <header className="topbar">
        <NavLink to="/board" className="brand" aria-label="Setback, to the Board">
          <svg width="34" height="12" viewBox="0 0 34 12" aria-hidden="true">
            <rect width="12" height="12" />
            <rect x="15" y="2" width="8" height="8" />
            <rect x="27" y="3" width="5" height="6" />
          </svg>
          <span>Setback</span>
        </NavLink>
        <button type="button" className="btn btn-primary sections-toggle" aria-expanded={unfolded} aria-controls="sections" onClick={() => setUnfolded(!unfolded)}>
          {SECTIONS.find((one) => pathname.startsWith(one.path))?.name ?? "Sections"} ▾
        </button>
        <nav id="sections" aria-label="Sections" className={unfolded ? "unfolded" : ""}>
          {SECTIONS.map((section) => (
            <NavLink key={section.path} to={section.path} title={`${section.asks} (g ${section.key})`}>
              {section.name}
            </NavLink>
          ))}
        </nav>
        <div className="side">
          <button type="button" className="btn btn-primary" aria-label="Find anything" title="Find anything (/)" onClick={() => setFinding("")}>
            <svg width="16" height="16" viewBox="0 0 16 16" fill="none" stroke="currentColor" strokeWidth="2" aria-hidden="true">
              <circle cx="6.5" cy="6.5" r="5" />
              <path d="m10.5 10.5 4.5 4.5" />
            </svg>
          </button>
          <Timers />
          <RoomNow />
          <TechnicianMenu />
        </div>
      </header>
      <main id="main" tabIndex={-1}>
        <Suspense fallback={null}>
          <Outlet />
        </Suspense>
      </main>
      <footer className="keybar no-print" aria-label="Keys">
        {page.filter((one) => one.does).map((one) => (
          <span key={one.keys}>
            <span className="kbd">{one.keys}</span> {one.does}
          </span>
        ))}
        <span>
          <span className="kbd">/</span> find anything
        </span>
        <span>
          <span className="kbd">?</span> all keys
        </span>
      </footer>
      <Finder start={finding} onClose={() => setFinding(null)} />
      <KeyHelp show={helping} onClose={() => setHelping(false)} />
    </>
  );
}
