import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { FileLinks } from "../../shared/coupon/FileLinks";
import { duration, exposure, millilitres, plural, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { KIND_NAMES, type Arm, type Calibration } from "./model";
import type { CampaignDialog } from "./CampaignMenu";
import { ConflictNote } from "./ConflictNote";
import { Evidence } from "./Evidence";
import { Notices } from "./Notices";
import { CustomForm } from "./range/CustomForm";
import { LadderForm } from "./range/LadderForm";
import { alone, type Kind, usePlan } from "./range/plan";

/** What to print or read next, and what it costs. */
export function NextPanel({
  calibration,
  arm,
  onDialog,
  onLadder,
}: {
  calibration: Calibration;
  arm: Arm;
  onDialog: (name: CampaignDialog) => void;
  onLadder: (exposures_s: number[]) => void;
}) {
  const [custom, setCustom] = useState(false);
  const closed = Boolean(calibration.closed_at);
  // A strip only seeds: after it the range is still to be found.
  const fresh = arm.coupons.every((card) => card.way === "strip");
  const waiting = arm.to_read.length + arm.to_print.length > 0;
  if (!arm.coupons.length && closed) return <p className="mb-0">Nothing was printed in this arm.</p>;
  return (
    <>
      {(!fresh || waiting) && <h2>What now</h2>}
      {arm.to_read.length > 0 && (
        <div className="mb-3">
          <p className="mb-2">
            {plural(arm.to_read.length, "coupon")} printed and not read. Wash, dry and cure first: an uncured reading is
            provisional.
          </p>
          <Link className="btn btn-primary w-100" to={`/coupons/${arm.to_read[0]}`}>
            Read {arm.to_read[0]}
          </Link>
        </div>
      )}
      {arm.to_print.length > 0 && calibration.simulated && (
        <p>{plural(arm.to_print.length, "coupon")} to print: the simulated printer does it, from the tray.</p>
      )}
      {arm.to_print.length > 0 && !calibration.simulated && (
        <>
          <p className="caution">
            {plural(arm.to_print.length, "coupon")} to print. Gloves and eye protection; vat level, plate clean, bottle
            shaken. Mark each in the tray when it is out.
          </p>
          {arm.to_print.length > 1 && (
            <div className="mb-3">
              <span className="form-label d-block">All {arm.to_print.length} in one file</span>
              <FileLinks
                name={plural(arm.to_print.length, "coupon")}
                href={(format) =>
                  `/api/calibrations/${calibration.id}/files-to-print?arm=${arm.number}&format=${format}`
                }
              />
            </div>
          )}
        </>
      )}
      {fresh && !closed && <LadderForm calibration={calibration} arm={arm} onLadder={onLadder} />}
      {arm.range_only && <p className="trouble">{arm.range_only}</p>}
      <ConflictNote calibration={calibration} arm={arm} onDialog={onDialog} />
      {!fresh &&
        !closed &&
        arm.next.map((next) => (
          <Advice key={next.kind} next={next} calibration={calibration} arm={arm} several={arm.next.length > 1} />
        ))}
      {!closed &&
        arm.missing.map((lane) => <FirstOfLane key={lane.lane} lane={lane} calibration={calibration} arm={arm} />)}
      <Evidence arm={arm} />
      {!closed && !fresh && (
        <>
          <Button variant="link" aria-expanded={custom} onClick={() => setCustom(!custom)}>
            {custom ? "Close" : "Plan other coupons…"}
          </Button>
          {custom && <CustomForm calibration={calibration} arm={arm} onDone={() => setCustom(false)} />}
        </>
      )}
    </>
  );
}

/** A lane the parts need and no coupon has shown: its first coupons, in one go. */
function FirstOfLane({ lane, calibration, arm }: { lane: Schemas["Missing"]; calibration: Calibration; arm: Arm }) {
  const plan = usePlan(arm);
  return (
    <section className="mb-3" aria-label={`Not shown yet: ${KIND_NAMES[lane.kind]}`}>
      <h3 className="mb-1">
        Not shown yet<span className="text-secondary fw-normal">, {KIND_NAMES[lane.kind]}</span>
      </h3>
      <div className="next-number">
        {lane.exposures_s.map((value) => exposure(value, calibration.exposure_step_s)).join(", ")}
        <small className="fs-6">{THIN}s</small>
      </div>
      <p className="mb-1">{lane.said}</p>
      {lane.refused && <Trouble error={{ message: lane.refused }} />}
      {lane.cost && (
        <Button
          variant="outline-primary"
          className="w-100"
          disabled={plan.isPending}
          onClick={() => plan.mutate(alone(lane.kind as Kind, lane.exposures_s))}
        >
          Plan {plural(lane.exposures_s.length, "coupon")} · {duration(lane.cost.duration_s)} ·{" "}
          {millilitres(lane.cost.volume_ml)}
        </Button>
      )}
      <Trouble error={plan.error} className="mt-2" />
    </section>
  );
}

function Advice({
  next,
  calibration,
  arm,
  several,
}: {
  next: Schemas["NextStep"];
  calibration: Calibration;
  arm: Arm;
  several: boolean;
}) {
  const plan = usePlan(arm);
  const { advice, cost, kind } = next;
  const exposures =
    advice.action === "print" && advice.exposure_s !== null ? [advice.exposure_s] : advice.repeat_exposures_s;
  const planned = arm.coupons.filter((c) => c.kind === kind && c.status !== "read" && exposures.includes(c.exposure_s));
  const title = { print: "Next coupon", repeat: "Print again", done: "Closed in", review: "Look before printing more" }[
    advice.action
  ];
  return (
    <section className="mb-3" aria-label={`${title}: ${KIND_NAMES[kind]}`} data-action={advice.action}>
      <h3 className="mb-1">
        {title}
        {several && <span className="text-secondary fw-normal">, {KIND_NAMES[kind]}</span>}
      </h3>
      {exposures.length > 0 && (
        <div className="next-number">
          {exposures.map((value) => exposure(value, calibration.exposure_step_s)).join(", ")}
          <small className="fs-6">{THIN}s</small>
        </div>
      )}
      <p className={advice.action === "repeat" || advice.action === "review" ? "trouble mt-1" : "mb-1"}>
        {advice.reason}
      </p>
      {advice.settles && <p className="text-secondary mb-1">Settles {advice.settles}.</p>}
      <Notices notices={advice.warnings.filter((warning) => warning.message !== advice.reason)} />
      {next.refused && <Trouble error={{ message: next.refused }} />}
      {planned.length > 0 ? (
        <p className="text-secondary mb-0">
          {planned.map((c) => c.code).join(", ")} {planned.length > 1 ? "are" : "is"} on the way there.
        </p>
      ) : (
        cost && (
          <Button
            variant={arm.to_read.length || several ? "outline-primary" : "primary"}
            className="w-100"
            disabled={plan.isPending}
            onClick={() => plan.mutate(alone(kind as "flat", exposures, advice.action === "repeat"))}
          >
            Plan {exposures.length > 1 ? plural(exposures.length, "coupon") : "it"} · {duration(cost.duration_s)} ·{" "}
            {millilitres(cost.volume_ml)}
          </Button>
        )
      )}
      {cost && planned.length === 0 && <Notices notices={cost.warnings} />}
      <Trouble error={plan.error} className="mt-2" />
    </section>
  );
}
