import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { usePages } from "../../shared/api/usePages";
import { THIN, day, shownOf, threeDigits } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";
import type { Column } from "../../shared/table/DataTable";
import { PagedTable } from "../../shared/table/PagedTable";

type Listed = Schemas["CalibrationListed"];

function state(row: Listed): "issued" | "closed" | "calibrating" {
  return row.issued_code ? "issued" : row.closed_at ? "closed" : "calibrating";
}

const COLUMNS: Column<Listed>[] = [
  {
    name: "Calibration",
    value: (row) => `${row.material} on ${row.printer}, ${row.layer_height_um} µm`,
    cell: (row) => (
      <Link className="row-link d-inline-flex align-items-center" to={`/calibrate/${row.id}`}>
        {row.material} on {row.printer}
      </Link>
    ),
  },
  { name: "Code", value: (row) => row.code, cell: (row) => <span className="num">{row.code}</span> },
  { name: "Layer, µm", value: (row) => row.layer_height_um, number: true },
  {
    name: "State",
    value: (row) => state(row),
    cell: (row) => (
      <StateMark name={state(row)} word={row.issued_code ? `issued ${row.issued_s}${THIN}s` : undefined} />
    ),
  },
  {
    name: "Tried, s",
    value: (row) => row.lowest_s,
    cell: (row) =>
      row.lowest_s !== null && row.highest_s !== null
        ? `${threeDigits(row.lowest_s)} … ${threeDigits(row.highest_s)}`
        : "–",
    number: true,
  },
  {
    name: "Read",
    value: (row) => row.read,
    cell: (row) => (row.whole_share === null ? `${row.read} of ${row.coupons}` : "by prints"),
    number: true,
  },
  { name: "Waiting", value: (row) => row.printed_unread, number: true },
  { name: "Opened", value: (row) => row.opened_at, cell: (row) => day(row.opened_at) },
];

export default function CalibrationsPage() {
  const navigate = useNavigate();
  const pages = usePages(
    ["calibrations"],
    (page) => body(GET("/api/calibrations", { params: { query: page } })),
    (row) => row.opened_at,
  );
  usePageKeys([{ keys: "n", does: "start a calibration", run: () => void navigate("/calibrate/new") }]);
  return (
    <>
      <PageHead title="Calibrate" sub={shownOf(pages, "calibration")}>
        <Link className="btn btn-primary" to="/calibrate/new">
          Start a calibration
        </Link>
      </PageHead>
      <PagedTable
        name="Calibrations"
        pages={pages}
        columns={COLUMNS}
        id={(row) => row.id}
        purpose="A calibration finds the exposure at which one material prints right on one printer at one layer height."
        start={
          <Link className="btn btn-primary d-inline-flex align-items-center" to="/calibrate/new">
            Start a calibration
          </Link>
        }
      />
    </>
  );
}
