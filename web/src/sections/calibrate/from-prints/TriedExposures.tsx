import { Link } from "react-router";
import type { Schemas } from "../../../shared/api/client";
import { EmptyState } from "../../../shared/EmptyState";
import { exposure, percent, plural } from "../../../shared/format";
import { DataTable, type Column } from "../../../shared/table/DataTable";
import type { Arm, Calibration } from "../model";

type Seen = Schemas["SeenAt"];
const told = (one: Seen) => one.whole + one.under + one.over;

/** What came out at each exposure that was printed. */
export function TriedExposures({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const seen = arm.from_prints?.success?.seen ?? [];
  if (!seen.length)
    return (
      <EmptyState purpose="No print of parts with these settings is logged yet. Each one that is adds to the curve above." />
    );
  const columns: Column<Seen>[] = [
    {
      name: "Exposure, s",
      value: (row) => row.exposure_s,
      cell: (row) => exposure(row.exposure_s, calibration.exposure_step_s),
      number: true,
    },
    { name: "Prints", value: (row) => row.prints, number: true },
    {
      name: "Whole",
      value: (row) => (told(row) ? row.whole / told(row) : null),
      cell: (row) => (told(row) ? `${row.whole} of ${told(row)}, ${percent(row.whole / told(row))}` : "–"),
      number: true,
    },
    { name: "Too little light", value: (row) => row.under, number: true },
    { name: "Too much", value: (row) => row.over, number: true },
    { name: "Otherwise", value: (row) => row.other, number: true },
  ];
  const log = `/log?material=${calibration.material_id}&printer=${calibration.printer_id}&parts=1`;
  return (
    <section className="mt-3" aria-label="What was printed">
      <DataTable name="Exposures tried" columns={columns} rows={seen} id={(row) => String(row.exposure_s)} />
      <p className="mt-2 mb-0">
        <Link to={log}>{plural(arm.from_prints?.prints ?? 0, "print")} of parts in the log</Link>
      </p>
    </section>
  );
}
