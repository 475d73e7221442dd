import { useEffect, useState } from "react";
import { NavLink, useLocation } from "react-router";
import { SECTIONS } from "./sections";

/** The sections in the order of work: a row, or on a phone one button that unfolds them. */
export function SectionsNav() {
  const { pathname } = useLocation();
  const [unfolded, setUnfolded] = useState(false);
  useEffect(() => setUnfolded(false), [pathname]);
  return (
    <>
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
    </>
  );
}
