import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { usePages } from "../../shared/api/usePages";
import { temperature, millilitres, moment, plural, shownOf } from "../../shared/format";
import { Gates } from "../../shared/Gates";
import type { Column } from "../../shared/table/DataTable";
import { PagedTable } from "../../shared/table/PagedTable";
import { LogDays } from "./LogDays";
import "./log.scss";
import { useGet } from "../../shared/api/useGet";

type Print = Schemas["LogView"];

const COLUMNS: Column<Print>[] = [
  {
    name: "When",
    value: (row) => row.printed_at,
    cell: (row) => <span className="text-nowrap">{moment(row.printed_at)}</span>,
  },
  { name: "Print", value: (row) => row.code, cell: (row) => <span className="text-nowrap num">{row.code}</span> },
  { name: "Printer", value: (row) => row.printer },
  { name: "Material", value: (row) => row.material ?? row.settings_note },
  {
    name: "With",
    value: (row) => row.set_code ?? row.calibration_code ?? row.settings_note,
    cell: (row) =>
      row.set_code ? (
        <Link className="text-nowrap" to={`/sets/${row.set_code}`}>
          {row.set_code}
        </Link>
      ) : row.calibration_id ? (
        <Link className="text-nowrap" to={`/calibrate/${row.calibration_id}`}>
          {row.calibration_code}
        </Link>
      ) : (
        row.settings_note
      ),
  },
  { name: "What", value: (row) => what(row) },
  { name: "Start", value: (row) => row.temp_c, cell: (row) => <Warmth row={row} />, number: true },
  {
    name: "End",
    value: (row) => row.temp_end_c,
    cell: (row) => (row.temp_end_c === null ? "" : temperature(row.temp_end_c)),
    number: true,
  },
  {
    name: "Resin",
    value: (row) => row.volume_ml,
    cell: (row) => (row.volume_ml ? millilitres(row.volume_ml) : ""),
    number: true,
  },
  { name: "Came out", value: (row) => row.outcome, cell: (row) => <Outcome row={row} /> },
  { name: "Seen", value: (row) => row.seen, wide: true },
  { name: "By", value: (row) => row.initials },
];

/** What happened: every print with its conditions, newest first. */
export default function LogPage() {
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const failed = search.has("failed");
  const pages = usePages(
    ["prints", failed],
    (page) => body(GET("/api/prints", { params: { query: { ...page, failed } } })),
    (row) => row.id,
  );
  usePageKeys([{ keys: "n", does: "log a print", run: () => void navigate("/log/new") }]);
  const gates = useGet("/api/gates", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Log" sub={shownOf(pages, "print")}>
        <Link className="btn btn-primary d-inline-flex align-items-center" to="/log/new">
          Log a print
        </Link>
      </PageHead>
      <Gates gates={gates.data ?? []} />
      {!failed && <LogDays />}
      <Form.Check
        id="failed-only"
        className="mb-3 no-print"
        label="only prints with missing parts"
        checked={failed}
        onChange={(event) => setSearch(event.target.checked ? { failed: "" } : {}, { replace: true })}
      />
      <PagedTable
        name="Prints"
        pages={pages}
        columns={COLUMNS}
        id={(row) => row.id}
        purpose={
          failed
            ? "No print has left parts missing."
            : "Every print with its temperature, place and outcome: the record a failure is explained from."
        }
        start={
          !failed && (
            <Link className="btn btn-primary d-inline-flex align-items-center" to="/log/new">
              Log a print
            </Link>
          )
        }
      />
    </>
  );
}

function what(row: Print): string {
  if (row.coupons) return plural(row.coupons, "coupon");
  if (row.specimens) return plural(row.specimens, "specimen");
  return row.parts.map((part) => part.name).join(", ");
}

/** How warm it was at the start; outside its set's band with the reason it went on. */
function Warmth({ row }: { row: Print }) {
  if (row.temp_c === null) return null;
  const crossed = row.outside_band;
  return (
    <>
      {temperature(row.temp_c)} {row.temp_place}
      {crossed && (
        <small className="d-block is-outside" title={crossed.reason}>
          {crossed.side === "below" ? "◀" : "▶"} {crossed.side} {crossed.low_c}–{crossed.high_c}: {crossed.reason}
        </small>
      )}
      {crossed?.side === "below" && row.outcome !== "whole" && (
        <Link className="d-block small" to={`/climate/warm-start?printer=${row.printer_id}&set=${row.set_code}`}>
          Plan a warm start
        </Link>
      )}
    </>
  );
}

function Outcome({ row }: { row: Print }) {
  if (!row.outcome) return null;
  const bad = row.parts.filter((part) => part.outcome !== "whole");
  return (
    <span className={row.outcome === "whole" ? "passed" : "found"}>
      {row.outcome === "whole" ? "■ whole" : `▲ ${row.outcome}`}
      {bad.length > 0 && (
        <small className="d-block">{bad.map((part) => `${part.name} ${part.outcome}`).join(", ")}</small>
      )}
    </span>
  );
}
