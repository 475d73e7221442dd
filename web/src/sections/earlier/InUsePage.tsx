import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { usePages } from "../../shared/api/usePages";
import { plain } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";
import type { Column } from "../../shared/table/DataTable";
import { PagedTable } from "../../shared/table/PagedTable";
import { ShelfTabs } from "../shelf/ShelfTabs";
import { age } from "./age";
import { BorrowedPanel } from "./BorrowedPanel";

type Listed = Schemas["ProvisionalView"];

const COLUMNS: Column<Listed>[] = [
  {
    name: "Settings",
    value: (row) => `${row.material} on ${row.printer}`,
    cell: (row) => (
      <Link className="row-link d-inline-flex align-items-center" to={`/shelf/in-use/${row.code}`}>
        {row.material} on {row.printer}
      </Link>
    ),
  },
  { name: "Code", value: (row) => row.code, cell: (row) => <span className="num">{row.code}</span> },
  { name: "Layer, µm", value: (row) => row.layer_height_um, number: true },
  { name: "Exposure, s", value: (row) => row.exposure_s, cell: (row) => plain(row.exposure_s), number: true },
  {
    name: "State",
    value: (row) => row.state,
    cell: (row) => <StateMark name={row.state} />,
  },
  { name: "From", value: (row) => (row.source_note ? `${row.source_words}: ${row.source_note}` : row.source_words) },
  { name: "In use", value: (row) => row.age_days, cell: (row) => age(row.age_days), number: true },
];

/** Settings that work and were never measured here: what nobody throws away. */
export default function InUsePage() {
  const navigate = useNavigate();
  const pages = usePages(
    ["provisional-sets"],
    (page) => body(GET("/api/provisional-sets", { params: { query: page } })),
    (row) => row.code,
  );
  usePageKeys([{ keys: "n", does: "enter settings", run: () => void navigate("/shelf/in-use/new") }]);
  return (
    <>
      <PageHead title="Settings in use" sub={pages.total ? `${pages.total} that nothing here shows yet` : undefined}>
        <Link className="btn btn-quiet" to="/shelf/in-use/borrow">
          From another workshop
        </Link>
        <Link className="btn btn-quiet" to="/shelf/in-use/table">
          From a table
        </Link>
        <Link className="btn btn-primary" to="/shelf/in-use/new">
          Enter settings
        </Link>
      </PageHead>
      <ShelfTabs here="in-use" />
      <PagedTable
        name="Settings in use"
        pages={pages}
        columns={COLUMNS}
        id={(row) => row.code}
        purpose="Settings that work are kept here with where they come from: the Board shows them as in use, not shown, until coupons or prints say more."
        start={
          <>
            <Link className="btn btn-primary me-2" to="/shelf/in-use/new">
              Enter settings
            </Link>
            <Link className="btn btn-quiet" to="/shelf/in-use/table">
              From a table
            </Link>
          </>
        }
      />
      <BorrowedPanel />
    </>
  );
}
