import { useEffect, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { ApiError } from "./api/client";
import "./loading.scss";

/** What a query of one answer and one of many pages have alike. */
type Asked<T> = { data: T | undefined; error: Error | null; refetch: () => unknown };

type Props<T> = {
  query: Asked<T>;
  /** It is the whole page: its head comes with the data. */
  page?: boolean;
  children: (data: T) => ReactNode;
};

/** Shows a query's data; waits without a flash behind the page's frame, and says what went wrong with a way on. */
export function Loaded<T>({ query, page = false, children }: Props<T>) {
  const navigate = useNavigate();
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 100);
    return () => clearTimeout(timer);
  }, []);
  if (query.data !== undefined) return <>{children(query.data)}</>;
  if (query.error) {
    const gone = query.error instanceof ApiError && query.error.status === 404;
    return (
      <div className="empty" role="alert">
        <p>{query.error.message}</p>
        {gone && page && (
          <span className="d-inline-flex gap-2">
            <Button onClick={() => void navigate(-1)}>Back</Button>
            <Link className="btn btn-quiet" to="/board">
              To the Board
            </Link>
          </span>
        )}
        {!gone && <Button onClick={() => void query.refetch()}>Try again</Button>}
      </div>
    );
  }
  return late ? <Frame page={page} /> : null;
}

/** Where the page's parts will stand, while they are asked for. */
function Frame({ page }: { page: boolean }) {
  return (
    <div className="loading-frame" role="status" aria-label="Loading">
      {page && <div className="frame-head" />}
      <div className="panel" />
      <div className="panel" />
    </div>
  );
}
