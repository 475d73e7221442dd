import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { usePages } from "../../shared/api/usePages";
import { day, millilitres, moment, plural, shownOf, temperature } from "../../shared/format";
import { Gates } from "../../shared/Gates";
import type { Column } from "../../shared/table/DataTable";
import { PagedTable } from "../../shared/table/PagedTable";
import { Choice } from "../../shared/fields/Choice";
import { wordsOf } from "../../shared/words";
import { SectionTabs } from "../../shared/SectionTabs";
import { LogDays } from "./LogDays";
import { LOG_TABS } from "./tabs";
import { AskWhy } from "../trace/AskWhy";
import { OutcomeMark } from "./OutcomeMark";
import { RunningPrints } from "./RunningPrints";
import { useLogFilters } from "./useLogFilters";
import "./log.scss";
import { useGet } from "../../shared/api/useGet";

type Print = Schemas["LogView"];

const COLUMNS: Column<Print>[] = [
  {
    name: "When",
    value: (row) => row.printed_at,
    cell: (row) => <span className="text-nowrap">{row.printed_at && moment(row.printed_at)}</span>,
  },
  {
    name: "Print",
    value: (row) => row.code,
    cell: (row) => (
      <Link className="text-nowrap num" to={`/log/${row.code}`}>
        {row.code}
      </Link>
    ),
  },
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

/** What happened: what runs, days with their prints, and every print with its conditions, newest first. */
export default function LogPage() {
  const navigate = useNavigate();
  const { filters, set, isAll, clear } = useLogFilters();
  const pages = usePages(
    ["prints", filters],
    (page) => body(GET("/api/prints", { params: { query: { ...filters, ...page } } })),
    (row) => row.id,
  );
  usePageKeys([
    { keys: "n", does: "start a print", run: () => void navigate("/log/new") },
    { keys: "o", does: "log one that came out", run: () => void navigate("/log/new?done") },
  ]);
  const gates = useGet("/api/gates", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Log" sub={shownOf(pages, "print")}>
        <Link className="btn btn-quiet d-inline-flex align-items-center" to="/log/new?done">
          Log one that came out
        </Link>
        <Link className="btn btn-primary d-inline-flex align-items-center" to="/log/new">
          Start a print
        </Link>
      </PageHead>
      <SectionTabs name="Log" tabs={LOG_TABS} />
      <Gates gates={gates.data ?? []} />
      <RunningPrints />
      <LogDays filters={filters} />
      <Filters filters={filters} set={set} isAll={isAll} clear={clear} />
      <PagedTable
        name="Prints"
        pages={pages}
        columns={COLUMNS}
        id={(row) => row.id}
        purpose={
          isAll
            ? "Every print with its temperature, place and outcome: the record a failure is explained from."
            : "No print is like this."
        }
        start={
          isAll ? (
            <Link className="btn btn-primary d-inline-flex align-items-center" to="/log/new">
              Start a print
            </Link>
          ) : (
            <Button variant="quiet" onClick={clear}>
              Show all prints
            </Button>
          )
        }
      />
    </>
  );
}

function Filters({ filters, set, isAll, clear }: ReturnType<typeof useLogFilters>) {
  const printers = useGet(
    "/api/printers",
    { params: { query: { retired: true, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const materials = useGet("/api/climate-materials", {}, { select: (answer) => answer.items });
  const bottles = useGet(
    "/api/bottles",
    filters.material
      ? { params: { query: { retired: true, limit: 200, after: "", material_id: filters.material } } }
      : null,
    { select: (answer) => answer.items },
  );
  const wear = useGet(
    "/api/printers/{row_id}/wear",
    filters.printer ? { params: { path: { row_id: filters.printer } } } : null,
    {
      select: (answer) => answer.items,
    },
  );
  return (
    <div className="log-filters no-print" role="group" aria-label="Which prints">
      <Choice
        label="Printer"
        value={filters.printer ?? ""}
        none="all printers"
        onChange={(value) => set("printer", value)}
        options={(printers.data ?? []).map((one) => [one.id, one.name])}
      />
      <Choice
        label="Material"
        value={filters.material ?? ""}
        none="all materials"
        onChange={(value) => set("material", value)}
        options={(materials.data ?? []).map((one) => [one.id, one.name])}
      />
      {filters.material && (
        <Choice
          label="Bottle"
          value={filters.bottle ?? ""}
          none="all bottles"
          onChange={(value) => set("bottle", value)}
          options={(bottles.data ?? []).map((one) => [one.id, `${one.code}, lot ${one.lot}`])}
        />
      )}
      {(wear.data ?? []).length > 0 && (
        <Choice
          label="Since"
          value={filters.film ?? ""}
          none="always"
          onChange={(value) => set("film", value)}
          options={(wear.data ?? []).map((one) => [
            one.event_id,
            `${one.name}, ${day(one.since)}: ${plural(one.prints, "print")}`,
          ])}
        />
      )}
      <Choice
        label="Came out"
        value={filters.outcome ?? ""}
        none="however"
        onChange={(value) => set("outcome", value)}
        options={OUTCOMES}
      />
      <Form.Check
        id="failed-only"
        label="only prints with missing parts"
        checked={filters.failed}
        onChange={(event) => set("failed", event.target.checked)}
      />
      <Form.Check
        id="parts-only"
        label="only prints of parts"
        checked={filters.parts}
        onChange={(event) => set("parts", event.target.checked)}
      />
      {!isAll && (
        <Button variant="link" className="p-0" onClick={clear}>
          Show all
        </Button>
      )}
    </div>
  );
}

const OUTCOMES = wordsOf<NonNullable<Print["outcome"]>>({
  whole: "whole",
  "missing parts": "missing parts",
  failed: "failed",
});

function what(row: Print): string {
  if (row.coupons) return plural(row.coupons, "coupon");
  if (row.specimens) return plural(row.specimens, "specimen");
  return row.parts.map((part) => (part.printed > 1 ? `${part.printed} ${part.name}` : part.name)).join(", ");
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
    <>
      <OutcomeMark outcome={row.outcome} />
      {row.imported && <small className="text-secondary ms-2">imported</small>}
      {bad.length > 0 && (
        <small className="d-block found">
          {bad
            .map((part) =>
              part.printed > 1
                ? `${part.whole ?? 0} of ${part.printed} ${part.name} whole`
                : `${part.name} ${part.outcome}`,
            )
            .join(", ")}
        </small>
      )}
      {row.outcome !== "whole" && <AskWhy code={row.code} small />}
    </>
  );
}
