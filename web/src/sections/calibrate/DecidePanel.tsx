import Button from "react-bootstrap/Button";
import type { Schemas } from "../../shared/api/client";
import { duration, exposure, millilitres, percent, POLICY_NAMES, signed, THIN } from "../../shared/format";
import { perDegree } from "../../shared/known/perDegree";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration, Step } from "./model";
import type { CampaignDialog } from "./CampaignMenu";
import { ConflictNote } from "./ConflictNote";
import { Predicted, predictionAt } from "./Predicted";
import { Evidence } from "./Evidence";
import { alone, usePlan } from "./range/plan";

const ORDER = ["size-true", "centre", "support-safe", "hardest-in-tolerance"];

type Props = {
  calibration: Calibration;
  arm: Arm;
  policy: string;
  chosen: number | null;
  onPolicy: (policy: string) => void;
  onStep: (step: Step) => void;
  onDialog: (name: CampaignDialog) => void;
};

/** Four schools over the same evidence, and what each exposure would do. */
export function DecidePanel({ calibration, arm, policy, chosen, onPolicy, onStep, onDialog }: Props) {
  const result = arm.window;
  const policies = result?.policies ?? null;
  const step = calibration.exposure_step_s;
  const more = arm.next.find((one) => one.advice.action === "print" && one.cost);
  const plan = usePlan(arm);
  if (!result?.window || !policies)
    return (
      <>
        <h2>Decide</h2>
        {!result && <p>Nothing is read yet, so there is nothing to decide on.</p>}
        {result && !result.conflict && <p>There is no window yet, so no exposure is offered.</p>}
        <ConflictNote calibration={calibration} arm={arm} onDialog={onDialog} />
        <Evidence arm={arm} />
        <Button className="w-100" onClick={() => onStep("refine")}>
          What to print next
        </Button>
      </>
    );
  const at = predictionAt(result, chosen);
  const none = ORDER.every((name) => policies[name] === null);
  return (
    <>
      <fieldset className="policies">
        <legend>What matters most for these parts?</legend>
        {ORDER.map((name) => {
          const value = policies[name] ?? null;
          const on = name === policy && value !== null;
          return (
            <label key={name} className={`${on ? "on" : ""} ${value === null ? "none" : ""}`}>
              <input
                type="radio"
                name="policy"
                value={name}
                checked={on}
                disabled={value === null}
                onChange={() => onPolicy(name)}
              />
              <b>{POLICY_NAMES[name]}</b>
              <span className="num-key">{value === null ? "–" : `${exposure(value, step)}${THIN}s`}</span>
              <small>{why(name, value, result, calibration)}</small>
            </label>
          );
        })}
      </fieldset>
      {at && chosen !== null && <Predicted at={at} calibration={calibration} arm={arm} />}
      {calibration.temperature && (
        <p className="small text-secondary">
          This material needs <i>~{perDegree(calibration.temperature).change}</i> light per °C warmer, from sets between{" "}
          {calibration.temperature.fitted_range_c.join(" and ")}
          {THIN}°C.
        </p>
      )}
      <Evidence arm={arm} />
      {!calibration.closed_at && (
        <>
          <Button className="w-100" size="lg" disabled={none || result.provisional} onClick={() => onStep("confirm")}>
            Go on with {chosen === null ? "–" : exposure(chosen, step)}
            {THIN}s
          </Button>
          {result.provisional && (
            <p className="text-secondary mt-2 mb-0">
              A provisional window is not issued on: repeat or leave out what it names.
            </p>
          )}
          {more?.cost && more.advice.exposure_s !== null && (
            <Button
              variant="link"
              className="w-100 text-center mt-2"
              disabled={plan.isPending}
              onClick={() => plan.mutate(alone(more.kind as "flat", [more.advice.exposure_s!]))}
            >
              Plan a coupon at {exposure(more.advice.exposure_s, step)}
              {THIN}s · {duration(more.cost.duration_s)} · {millilitres(more.cost.volume_ml)}
              {more.advice.settles && (
                <span className="d-block small fw-normal text-secondary">
                  The coupon that would help most: it settles {more.advice.settles}.
                </span>
              )}
            </Button>
          )}
          <Trouble error={plan.error} />
        </>
      )}
    </>
  );
}

function why(name: string, value: number | null, result: Schemas["WindowResult"], calibration: Calibration): string {
  const at = predictionAt(result, value);
  if (value === null) {
    if (name === "size-true")
      return result.lanes.size ? "True size lies outside the window." : "No sizes were measured.";
    if (name === "support-safe") return "No support tips were read.";
    return "No printer step falls inside the window.";
  }
  if (name === "size-true")
    return `Edges land where drawn.${at?.tip_probability != null ? ` Tips hold ${percent(at.tip_probability)}.` : ""}`;
  if (name === "centre" && at)
    return `Furthest from both failures, ${signed(-(at.margin_lower_pct ?? 0))} / ${signed(at.margin_upper_pct ?? 0)}${THIN}%.`;
  if (name === "support-safe")
    return `Least light that clears every lower end by ${calibration.guard_band_pct}${THIN}% and its doubt.`;
  return at?.growth_um != null
    ? `${signed(at.growth_um)}${THIN}µm per edge, as strong as the tolerance allows.`
    : "As much light as every upper end allows.";
}
