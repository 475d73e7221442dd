import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { day } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { SectionTabs } from "../../shared/SectionTabs";
import { type Column, DataTable } from "../../shared/table/DataTable";
import { Trouble } from "../../shared/Trouble";
import { LOG_TABS } from "../prints/tabs";

type Listed = Schemas["TraceListed"];

const COLUMNS: Column<Listed>[] = [
  {
    name: "Trace",
    value: (row) => row.code,
    cell: (row) => (
      <Link className="row-link num d-inline-flex align-items-center" to={`/log/why/${row.code}`}>
        {row.code}
      </Link>
    ),
  },
  { name: "Print", value: (row) => row.print_code, cell: (row) => row.print_code ?? "none in the log" },
  { name: "Material", value: (row) => row.material },
  { name: "Printer", value: (row) => row.printer },
  { name: "Opened", value: (row) => row.opened_at, cell: (row) => day(row.opened_at) },
  { name: "It was", value: (row) => row.cause, cell: (row) => row.cause ?? "open" },
];

const PAGE = 100;
const MOST = 1000;

/** Failures that were asked about, and the way to begin with one that is in no log. */
export default function WhyListPage() {
  const navigate = useNavigate();
  const [limit, setLimit] = useState(PAGE);
  const query = useGet(
    "/api/traces",
    { params: { query: { limit } } },
    { select: (answer) => answer.items, placeholderData: keepPreviousData },
  );
  const begin = useSend(
    (_: null, headers) => body(POST("/api/traces", { body: { print_code: null, symptoms: [] }, headers })),
    (made) => void navigate(`/log/why/${made.code}`),
  );
  usePageKeys([{ keys: "n", does: "ask why", run: () => begin.mutate(null) }]);
  const start = (
    <Button disabled={begin.isPending} onClick={() => begin.mutate(null)}>
      Ask why something failed
    </Button>
  );
  return (
    <>
      <PageHead title="Why did it fail?" sub="from what is seen to its cause">
        {start}
      </PageHead>
      <SectionTabs name="Log" tabs={LOG_TABS} />
      <Trouble error={begin.error} />
      <Loaded query={query}>
        {(rows) =>
          rows.length ? (
            <>
              <DataTable name="Traces" columns={COLUMNS} rows={rows} id={(row) => row.code} />
              {rows.length === limit && limit < MOST && (
                <Button variant="quiet" className="mt-2" onClick={() => setLimit(Math.min(limit + PAGE, MOST))}>
                  Show older traces
                </Button>
              )}
            </>
          ) : (
            <EmptyState purpose="A failed print in the log leads here: what was seen and what the record says are weighed against its causes, and the cheapest check that tells them apart is named." />
          )
        }
      </Loaded>
    </>
  );
}
