import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { body, GET, type Schemas } from "../../shared/api/client";
import { usePages } from "../../shared/api/usePages";
import { moment, shownOf } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";
import type { Column } from "../../shared/table/DataTable";
import { PagedTable } from "../../shared/table/PagedTable";
import { QualifyTabs } from "./QualifyTabs";
import "./qualify.scss";

type Line = Schemas["SignedLineView"];
const COLUMNS: Column<Line>[] = [
  {
    name: "Record",
    value: (row) => row.code,
    cell: (row) => (
      <Link className="num" to={`/qualify/records/${row.code}`}>
        {row.code}
      </Link>
    ),
  },
  { name: "Brief", value: (row) => `${row.brief}, version ${row.brief_version}` },
  { name: "Material", value: (row) => row.material },
  { name: "Printer", value: (row) => row.printer },
  {
    name: "Set",
    value: (row) => row.set_code,
    cell: (row) => (
      <Link className="num" to={`/sets/${row.set_code}`}>
        {row.set_code}
      </Link>
    ),
  },
  { name: "Signed as", value: (row) => row.verdict, cell: (row) => <StateMark name={row.verdict} /> },
  { name: "Now", value: (row) => row.state, cell: (row) => <StateMark name={row.state} /> },
  { name: "Why", value: (row) => row.why.join(" "), wide: true },
  { name: "By", value: (row) => row.initials },
  {
    name: "When",
    value: (row) => row.signed_at,
    cell: (row) => <span className="text-nowrap">{moment(row.signed_at)}</span>,
  },
];

/** What was signed, and how it stands now. */
export default function RecordsPage() {
  const pages = usePages(
    ["qualifications"],
    (page) => body(GET("/api/qualifications", { params: { query: page } })),
    (row) => row.signed_at,
  );
  return (
    <>
      <PageHead title="Signed qualifications" sub={shownOf(pages, "qualification")} />
      <QualifyTabs />
      <PagedTable
        name="Signed qualifications"
        pages={pages}
        columns={COLUMNS}
        id={(row) => row.id}
        purpose="A signed qualification is kept as it was judged, with its certificate; events that end its set lapse it."
        start={
          <Link className="btn btn-primary d-inline-flex align-items-center" to="/qualify">
            To the briefs
          </Link>
        }
      />
    </>
  );
}
