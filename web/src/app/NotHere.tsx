import { Link } from "react-router";
import { EmptyState } from "../shared/EmptyState";

export function NotHere() {
  return (
    <EmptyState purpose="There is no such page.">
      <Link className="btn btn-primary" to="/board">
        To the Board
      </Link>
    </EmptyState>
  );
}
