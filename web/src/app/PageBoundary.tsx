import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { Link, useLocation } from "react-router";

/** An error while a page is drawn stays on that page: the bar above it and every other page go on working. */
export function PageBoundary({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={PageFailed} resetKeys={[pathname]}>
      {children}
    </ErrorBoundary>
  );
}

function PageFailed({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <div className="empty" role="alert">
      <h1>This page could not be shown</h1>
      <p>
        What was saved is safe. Try again; if it happens once more, note what this says:{" "}
        {error instanceof Error ? error.message : String(error)}
      </p>
      <Button className="me-2" onClick={resetErrorBoundary}>
        Try again
      </Button>
      <Link className="btn btn-quiet d-inline-flex align-items-center" to="/board">
        To the Board
      </Link>
    </div>
  );
}
