import { Link, useLocation } from "react-router";
import { useTechnician } from "./technician";

const PAGE = "/lab/people";

/** Somebody whose password a lead set chooses their own before they change anything. */
export function OwnPasswordFirst() {
  const me = useTechnician().session?.signed_in;
  const { pathname } = useLocation();
  if (!me?.must_change || pathname === PAGE) return null;
  return (
    <p className="caution no-print" role="status">
      A lead set the password you have. <Link to={PAGE}>Choose one of your own</Link> before you change anything.
    </p>
  );
}
