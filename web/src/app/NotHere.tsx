import Button from "react-bootstrap/Button";
import { Link, useLocation, useNavigate } from "react-router";
import { EmptyState } from "../shared/EmptyState";

/** A part of an address as it was typed, even where it is encoded wrongly. */
function plain(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

/** An address nobody has: the way back, and what might have been meant. */
export function NotHere() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const last = plain(pathname.split("/").filter(Boolean).at(-1) ?? "");
  return (
    <EmptyState purpose={`There is no page at ${pathname}.`}>
      <span className="d-inline-flex flex-wrap gap-2">
        <Button onClick={() => void navigate(-1)}>Back</Button>
        {last && (
          <Link className="btn btn-quiet" to={`/board?find=${encodeURIComponent(last)}`}>
            Find “{last}”
          </Link>
        )}
        <Link className="btn btn-quiet" to="/board">
          To the Board
        </Link>
      </span>
    </EmptyState>
  );
}
