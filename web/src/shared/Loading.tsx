import { useEffect, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Spinner from "react-bootstrap/Spinner";
import { ApiError } from "./api/client";

/** What a query of one answer and one of many pages have alike. */
type Asked<T> = { data: T | undefined; error: Error | null; refetch: () => unknown };

/** Shows a query's data; waits without a flash, and says what went wrong with a way on. */
export function Loaded<T>({ query, children }: { query: Asked<T>; children: (data: T) => ReactNode }) {
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
        {!gone && <Button onClick={() => void query.refetch()}>Try again</Button>}
      </div>
    );
  }
  return late ? (
    <div className="empty">
      <Spinner animation="border" size="sm" role="status" aria-label="Loading" />
    </div>
  ) : null;
}
