import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { EmptyState } from "../../shared/EmptyState";
import { day } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { SectionTabs } from "../../shared/SectionTabs";
import { type Column, DataTable } from "../../shared/table/DataTable";
import { CamerasPanel } from "./CamerasPanel";
import { PRACTICE_TABS } from "./tabs";
import { MEASURES } from "./studies";

type Line = Schemas["StudyLine"];

const stateOf = (line: Line): string =>
  line.withdrawn_at ? "withdrawn" : line.finished_at ? "finished" : `${line.done} of ${line.turns} read`;

const COLUMNS: Column<Line>[] = [
  {
    name: "Study",
    value: (line) => line.code,
    cell: (line) => (
      <Link className="row-link num d-inline-flex align-items-center" to={`/practice/studies/${line.code}`}>
        {line.code}
      </Link>
    ),
  },
  { name: "What is read", value: (line) => MEASURES[line.measure].name },
  { name: "State", value: stateOf },
  { name: "Planned", value: (line) => line.planned_at, cell: (line) => `${day(line.planned_at)}, ${line.initials}` },
];

/** Gauge studies: how far readers agree with themselves and with each other. */
export default function StudiesPage() {
  const query = useGet("/api/gauge-studies", {}, { select: (answer) => answer.items });
  const plan = (
    <Link className="btn btn-primary" to="/practice/studies/new">
      Plan a gauge study
    </Link>
  );
  return (
    <>
      <PageHead title="Gauge studies" sub="How far can our reading be trusted?">
        {plan}
      </PageHead>
      <SectionTabs name="Practice" tabs={PRACTICE_TABS} />
      <Loaded query={query}>
        {(lines) =>
          lines.length ? (
            <DataTable name="Gauge studies" columns={COLUMNS} rows={lines} id={(line) => line.code} />
          ) : (
            <EmptyState purpose="Several people, and the picture reader, read the same coupons again and again in a hidden random order. The result says how much of what a coupon shows is the reader, and windows are decided with it.">
              <Link className="btn btn-primary" to="/practice/studies/new">
                Plan a gauge study
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
      <CamerasPanel />
    </>
  );
}
