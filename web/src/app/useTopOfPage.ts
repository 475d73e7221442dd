import { useEffect } from "react";
import { useLocation, useNavigationType } from "react-router";

/** Another page begins at its top; the way back keeps its place. */
export function useTopOfPage(): void {
  const { pathname } = useLocation();
  const how = useNavigationType();
  useEffect(() => {
    if (how !== "POP") window.scrollTo(0, 0);
  }, [pathname, how]);
}
