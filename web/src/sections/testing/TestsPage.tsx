import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { usePages } from "../../shared/api/usePages";
import { day, shownOf } from "../../shared/format";
import type { Column } from "../../shared/table/DataTable";
import { PagedTable } from "../../shared/table/PagedTable";
import { TestTabs } from "./TestTabs";

type Line = Schemas["TestLine"];

const COLUMNS: Column<Line>[] = [
  {
    name: "Test",
    value: (row) => row.method_name,
    cell: (row) => (
      <Link className="row-link d-inline-flex align-items-center" to={`/test/${row.code}`}>
        {row.method_name}
      </Link>
    ),
  },
  { name: "Code", value: (row) => row.code, cell: (row) => <span className="num">{row.code}</span> },
  { name: "Materials", value: (row) => row.materials, wide: true },
  { name: "For", value: (row) => row.brief ?? "" },
  { name: "Read", value: (row) => row.read, cell: (row) => `${row.read} of ${row.specimens}`, number: true },
  {
    name: "State",
    value: (row) => stateOf(row),
    cell: (row) => <span className={row.closed_at || row.read < row.specimens ? "" : "passed"}>{stateOf(row)}</span>,
  },
  {
    name: "Planned",
    value: (row) => row.planned_at,
    cell: (row) => <span className="text-nowrap">{day(row.planned_at)}</span>,
  },
];

const stateOf = (row: Line) =>
  row.closed_at ? "closed" : row.read === 0 ? "○ planned" : row.read < row.specimens ? "◐ at the bench" : "■ all read";

/** Every test, newest first: how far each has come. */
export default function TestsPage() {
  const navigate = useNavigate();
  const pages = usePages(
    ["tests"],
    (page) => body(GET("/api/tests", { params: { query: page } })),
    (row) => row.planned_at,
  );
  usePageKeys([{ keys: "n", does: "plan a test", run: () => void navigate("/test/new") }]);
  return (
    <>
      <PageHead title="Test" sub={shownOf(pages, "test")}>
        <Link className="btn btn-primary d-inline-flex align-items-center" to="/test/new">
          Plan a test
        </Link>
      </PageHead>
      <TestTabs />
      <PagedTable
        name="Tests"
        pages={pages}
        columns={COLUMNS}
        id={(row) => row.id}
        purpose="A test breaks or wears specimens of several materials in the same way, and says which is better, with what confidence."
        start={
          <Link className="btn btn-primary d-inline-flex align-items-center" to="/test/new">
            Plan a test
          </Link>
        }
      />
    </>
  );
}
