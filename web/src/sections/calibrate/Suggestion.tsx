import Button from "react-bootstrap/Button";
import type { Schemas } from "../../shared/api/client";
import { chance, duration, exposure, millilitres, plural, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { KIND_NAMES, type Arm, type Calibration } from "./model";
import { Notices } from "./Notices";
import { alone, usePlan } from "./range/plan";

type Next = Schemas["NextStep"];
type Props = {
  next: Next;
  calibration: Calibration;
  arm: Arm;
  /** Where an offer is chosen from. */ onDecide?: () => void;
};

const STOPPED: Record<string, string> = {
  offer: "Stop: decided",
  none: "Stop: no exposure is right",
  narrow: "Stop: too narrow to settle",
  more: "Nothing more to print",
};

/** The one suggestion: the next coupon, what it would settle and what it costs; or why to stop. */
export function Suggestion({ next, calibration, arm, onDecide }: Props) {
  const { advice } = next;
  const title =
    advice.action === "stop" ? STOPPED[advice.decision] : advice.action === "repeat" ? "Print again" : "Next coupon";
  return (
    <section className="mb-3" aria-label={title} data-action={advice.action} data-decision={advice.decision}>
      <h3 className="mb-1">
        {title}
        {advice.kind && <span className="text-secondary fw-normal">, {KIND_NAMES[advice.kind]}</span>}
      </h3>
      {next.exposures_s.length > 0 && (
        <div className="next-number">
          {next.exposures_s.map((value) => exposure(value, calibration.exposure_step_s)).join(", ")}
          <small className="fs-6">{THIN}s</small>
        </div>
      )}
      <p className={advice.action === "repeat" ? "trouble mt-1" : "mb-1"}>
        {advice.further && advice.decision === "offer"
          ? "An exposure is offered. How far its window reaches is not shown yet: one more coupon would show it."
          : advice.message}
      </p>
      {next.settles && <p className="text-secondary mb-1">It settles {next.settles}.</p>}
      <Likely advice={advice} />
      <Notices notices={advice.warnings.filter((one) => one.code === "bring-back")} />
      {next.refused && <Trouble error={{ message: next.refused }} />}
      {next.cost && <PlanIt next={next} arm={arm} cost={next.cost} />}
      {advice.decision === "offer" && onDecide && (
        <Button className="w-100 mb-3" onClick={onDecide}>
          Choose an exposure
        </Button>
      )}
      <Further next={next} calibration={calibration} arm={arm} />
    </section>
  );
}

/** How sure things are now, and how likely the coupon decides them. */
function Likely({ advice }: { advice: Next["advice"] }) {
  if (advice.p_window === null || advice.action === "stop") return null;
  const now = `Best chance so far ${chance(advice.p_now)}`;
  return (
    <p className="text-secondary mb-2">
      {advice.p_offer === null ? `${now}.` : `${now}; with this coupon it is decided with ${chance(advice.p_offer)}.`}
    </p>
  );
}

function PlanIt({ next, arm, cost }: { next: Next; arm: Arm; cost: Schemas["Quote"] }) {
  const plan = usePlan(arm);
  const { advice, exposures_s } = next;
  return (
    <>
      <Button
        className="w-100"
        disabled={plan.isPending}
        onClick={() => plan.mutate(alone(advice.kind ?? "flat", exposures_s, next.is_repeat))}
      >
        Plan {exposures_s.length > 1 ? plural(exposures_s.length, "coupon") : "it"} · {duration(cost.duration_s)} ·{" "}
        {millilitres(cost.volume_ml)}
      </Button>
      <Notices notices={cost.warnings} />
      <Trouble error={plan.error} className="mt-2" />
    </>
  );
}

/** With an offer whose latitude is not shown: the coupon that would show an end. */
function Further({ next, calibration, arm }: Props) {
  const plan = usePlan(arm);
  const { further } = next.advice;
  if (!further || !next.further_cost) return null;
  return (
    <div data-further={further.exposure_s}>
      <p className="text-secondary mb-1">
        Or first a {KIND_NAMES[further.kind]} at {exposure(further.exposure_s, calibration.exposure_step_s)}
        {THIN}s, to show {next.further_settles}:{" "}
        <Button
          variant="link"
          className="p-0 align-baseline"
          disabled={plan.isPending}
          onClick={() => plan.mutate(alone(further.kind, [further.exposure_s]))}
        >
          plan it for the latitude · {duration(next.further_cost.duration_s)} ·{" "}
          {millilitres(next.further_cost.volume_ml)}
        </Button>
      </p>
      <Trouble error={plan.error} className="mt-2" />
    </div>
  );
}
