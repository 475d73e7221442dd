/** A long list as a page shows it: its newest rows, the button that goes on, or what the empty place is for. */
import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";
import type { usePages } from "../api/usePages";
import { EmptyState } from "../EmptyState";
import { Loaded } from "../Loading";
import { DataTable, type Column } from "./DataTable";

type Props<Row> = {
  name: string;
  pages: ReturnType<typeof usePages<Row>>;
  columns: Column<Row>[];
  id: (row: Row) => string;
  /** What the list is for, said while it is empty. */
  purpose: string;
  /** The action that starts it. */
  start?: ReactNode;
};

export function PagedTable<Row>({ name, pages, columns, id, purpose, start }: Props<Row>) {
  return (
    <Loaded query={pages}>
      {(rows) =>
        rows.length ? (
          <>
            <DataTable name={name} rows={rows} id={id} columns={columns} />
            {pages.hasNextPage && (
              <Button
                variant="quiet"
                className="mt-3"
                disabled={pages.isFetchingNextPage}
                onClick={() => void pages.fetchNextPage()}
              >
                Show earlier ones
              </Button>
            )}
          </>
        ) : (
          <EmptyState purpose={purpose}>{start}</EmptyState>
        )
      }
    </Loaded>
  );
}
