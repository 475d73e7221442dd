import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { sectionOf, SECTIONS } from "./sections";

/** The sections in the order of work: a row, or on a phone one button that unfolds them. */
export function SectionsNav() {
  const { pathname } = useLocation();
  const here = sectionOf(pathname);
  const [unfolded, setUnfolded] = useState(false);
  useEffect(() => setUnfolded(false), [pathname]);
  return (
    <>
      <button
        type="button"
        className="btn btn-primary sections-toggle"
        aria-expanded={unfolded}
        aria-controls="sections"
        onClick={() => setUnfolded(!unfolded)}
      >
        {here?.name ?? "Sections"} ▾
      </button>
      <nav id="sections" aria-label="Sections" className={unfolded ? "unfolded" : ""}>
        {SECTIONS.map((section) => (
          <Link
            key={section.path}
            to={section.path}
            className={section === here ? "active" : ""}
            aria-current={section === here ? "page" : undefined}
            title={`${section.asks} (g ${section.key})`}
          >
            {section.name}
          </Link>
        ))}
      </nav>
    </>
  );
}
