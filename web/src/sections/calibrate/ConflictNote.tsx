import Button from "react-bootstrap/Button";
import { exposure, LANE_NAMES, THIN } from "../../shared/format";
import type { Arm, Calibration } from "./model";
import { alone, usePlan } from "./range/plan";

/** When lanes do not overlap: by how much, how sure, and what to change, cheapest first. No exposure is offered. */
export function ConflictNote({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const conflict = arm.window?.conflict;
  const plan = usePlan(arm);
  if (!conflict) return null;
  return (
    <section aria-label="Conflict" className="mb-3" data-proven={conflict.proven}>
      <div className="trouble">
        <b>{conflict.proven ? "No exposure is right." : "No exposure is offered yet."}</b>
        <br />
        {LANE_NAMES[conflict.lower_from]} and {LANE_NAMES[conflict.upper_from]?.toLowerCase()} are {conflict.gap_pct.toFixed(0)}
        {THIN}% apart. {conflict.proven ? "That is more than the doubt." : "The doubt is larger than that gap."}
      </div>
      {conflict.try_s !== null && !calibration.closed_at && (
        <Button variant="outline-primary" className="w-100 mt-2" disabled={plan.isPending} onClick={() => plan.mutate(alone(kindFor(conflict.lower_from), [conflict.try_s!]))}>
          Worth one more coupon: {exposure(conflict.try_s, calibration.exposure_step_s)}
          {THIN}s
        </Button>
      )}
      <h3 className="mt-3">What to change, cheapest first</h3>
      <ol className="ps-3 mb-0">
        {conflict.remedies.map((remedy) => (
          <li key={remedy.code} className="mb-1">
            {remedy.message} <span className="text-secondary">Costs {remedy.cost}.</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function kindFor(lane: string): "flat" | "support" | "z-bridge" {
  return lane === "tips" ? "support" : lane === "z" ? "z-bridge" : "flat";
}
