import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { decimal, laneName, THIN } from "../../shared/format";
import type { CampaignDialog } from "./CampaignMenu";
import type { Arm, Calibration } from "./model";

/** When no exposure is right: which lanes exclude each other, by how much, and what to change: what the record speaks for, then the cheapest. */
export function ConflictNote({
  calibration,
  arm,
  onDialog,
}: {
  calibration: Calibration;
  arm: Arm;
  onDialog: (name: CampaignDialog) => void;
}) {
  const conflict = arm.window?.conflict;
  if (!conflict) return null;
  return (
    <section aria-label="Conflict" className="mb-3">
      <div className="trouble">
        <b>No exposure is right.</b>
        <br />
        {laneName(arm.window?.lanes, conflict.lower_from)} and{" "}
        {laneName(arm.window?.lanes, conflict.upper_from).toLowerCase()} are {conflict.gap_pct.toFixed(0)}
        {THIN}% apart
        {conflict.gap_ci_pct && ` (${conflict.gap_ci_pct.map((end) => decimal(end, 0)).join(" to ")}${THIN}%)`}.
      </div>
      <h3 className="mt-3">What to change, the likeliest help first</h3>
      <ol className="ps-3 mb-0">
        {conflict.remedies.map((remedy) => (
          <li key={remedy.code} className="mb-1">
            {remedy.message} <span className="text-secondary">Costs {remedy.cost}.</span>{" "}
            {!calibration.closed_at && <Begin code={remedy.code} calibration={calibration} onDialog={onDialog} />}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Where a remedy is begun. */
function Begin({
  code,
  calibration,
  onDialog,
}: {
  code: string;
  calibration: Calibration;
  onDialog: (name: CampaignDialog) => void;
}) {
  const { material_id, printer_id, thicker_um } = calibration;
  if (code === "layer")
    return (
      <Link
        className="text-decoration-underline"
        to={`/calibrate/new?material=${material_id}&printer=${printer_id}&height=${thicker_um}`}
      >
        Calibrate layers of {thicker_um}
        {THIN}µm
      </Link>
    );
  if (code === "warm")
    return (
      <Link className="text-decoration-underline" to={`/climate/warm-start?printer=${printer_id}`}>
        Plan a warm start
      </Link>
    );
  const [dialog, words] =
    code === "rest" || code === "slow"
      ? (["arm", "Start an arm with it"] as const)
      : (["limits", "Change what the parts need"] as const);
  return (
    <Button variant="link" className="p-0 align-baseline text-decoration-underline" onClick={() => onDialog(dialog)}>
      {words}
    </Button>
  );
}
