import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { exposure, laneName, THIN } from "../../shared/format";
import type { CampaignDialog } from "./CampaignMenu";
import type { Arm, Calibration } from "./model";
import { alone, usePlan } from "./range/plan";

/** When lanes do not overlap: by how much, how sure, and what to change, cheapest first. No exposure is offered. */
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
  const plan = usePlan(arm);
  if (!conflict) return null;
  return (
    <section aria-label="Conflict" className="mb-3" data-proven={conflict.proven}>
      <div className="trouble">
        <b>{conflict.proven ? "No exposure is right." : "No exposure is offered yet."}</b>
        <br />
        {laneName(arm.window?.lanes, conflict.lower_from)} and{" "}
        {laneName(arm.window?.lanes, conflict.upper_from).toLowerCase()} are {conflict.gap_pct.toFixed(0)}
        {THIN}% apart. {conflict.proven ? "That is more than the doubt." : "The doubt is larger than that gap."}
      </div>
      {conflict.try_s !== null && !calibration.closed_at && (
        <Button
          variant="outline-primary"
          className="w-100 mt-2"
          disabled={plan.isPending}
          onClick={() => plan.mutate(alone(kindFor(conflict.lower_from), [conflict.try_s!]))}
        >
          Worth one more coupon: {exposure(conflict.try_s, calibration.exposure_step_s)}
          {THIN}s
        </Button>
      )}
      <h3 className="mt-3">What to change, cheapest first</h3>
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

function kindFor(lane: string): "flat" | "support" | "z-bridge" {
  return lane === "tips" ? "support" : lane === "z" ? "z-bridge" : "flat";
}
