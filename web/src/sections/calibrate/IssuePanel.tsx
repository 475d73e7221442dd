import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { useTechnician } from "../../app/people/technician";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { DraftNote } from "../../shared/fields/DraftNote";
import { useEntry } from "../../shared/fields/useEntry";
import { chance, exposure, moment, type Policy, POLICY_NAMES, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration, Step } from "./model";
import { Predicted, predictionAt } from "./Predicted";

type Props = {
  calibration: Calibration;
  arm: Arm;
  policy: Policy;
  chosen: number | null;
  onStep: (step: Step) => void;
};

/** Issue a parameter set: the choice, its reason in writing, and the band in which it holds. */
export function IssuePanel(props: Props) {
  const { calibration, arm, chosen, onStep } = props;
  const ready = arm.window && !arm.window.provisional && chosen !== null;
  return (
    <>
      <h2>Issue</h2>
      <Issued calibration={calibration} />
      {calibration.closed_at ? (
        <p>This calibration is closed.</p>
      ) : ready ? (
        <IssueForm {...props} chosen={chosen} />
      ) : (
        <>
          <p>
            {arm.window?.provisional
              ? "The window is provisional: a set is not issued on it."
              : "The evidence offers no exposure yet."}
          </p>
          <Button className="w-100" onClick={() => onStep("refine")}>
            What to print next
          </Button>
        </>
      )}
    </>
  );
}

/** Sets this calibration has led to already. */
function Issued({ calibration }: { calibration: Calibration }) {
  if (!calibration.sets.length) return null;
  return (
    <ul className="list-unstyled">
      {calibration.sets.map((set) => (
        <li key={set.id} className="mb-2">
          <Link to={`/sets/${set.code}`} className="fw-bold">
            {set.code}, version {set.version}
          </Link>
          <br />
          {exposure(set.exposure_s, calibration.exposure_step_s)}
          {THIN}s by {POLICY_NAMES[set.policy].toLowerCase()}, {moment(set.issued_at)}
        </li>
      ))}
    </ul>
  );
}

function IssueForm({ calibration, arm, policy, chosen, onStep }: Props & { chosen: number }) {
  const navigate = useNavigate();
  const { initials } = useTechnician();
  const entry = useEntry(
    { reason: "", outside_reason: "", temp_low_c: null as number | null, temp_high_c: null as number | null },
    `issue.${calibration.id}`,
  );
  const bandQuery = useGet("/api/calibrations/{calibration_id}/temperature-band", {
    params: { path: { calibration_id: calibration.id }, query: { arm_id: arm.id, exposure_s: chosen } },
  });
  const band = bandQuery.data;
  useEffect(() => {
    if (band) entry.suggest({ temp_low_c: band.low_c, temp_high_c: band.high_c });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- proposed anew when the band is another
  }, [band]);
  const at = arm.window ? predictionAt(arm.window, chosen) : undefined;
  const offered = at?.offered ?? false;
  const issue = useSend(
    (_: null, headers) => {
      const request = {
        ...entry.values,
        version: calibration.version,
        arm_id: arm.id,
        exposure_s: chosen,
        policy,
        outside_reason: offered ? null : entry.values.outside_reason || null,
      };
      return body(
        POST("/api/calibrations/{calibration_id}/issue", {
          params: { path: { calibration_id: calibration.id } },
          body: request,
          headers,
        }),
      );
    },
    (made) => {
      entry.forget();
      void navigate(`/sets/${made.code}`);
    },
  );
  const { field, errors, elsewhere } = entry.checked(issue.error);
  const ofChoice = errors.exposure_s ?? errors.policy;
  const step = calibration.exposure_step_s;
  return (
    <Form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        issue.mutate(null);
      }}
    >
      <DraftNote entry={entry} />
      <div className="next-number">
        {exposure(chosen, step)}
        <small className="fs-6">{THIN}s</small>
      </div>
      <p className="mb-2">
        {policy === "own choice" ? "Chosen by hand" : `By ${POLICY_NAMES[policy].toLowerCase()}`}.{" "}
        <Button variant="link" className="p-0 align-baseline" onClick={() => onStep("decide")}>
          Change
        </Button>
      </p>
      {ofChoice && <Trouble error={{ message: ofChoice }} />}
      {at && <Predicted at={at} calibration={calibration} arm={arm} />}
      {!calibration.stages_done.includes("first-layer") && (
        <BaseNotRated seconds={arm.settings.base_exposure_s} onStep={onStep} />
      )}
      <TextField
        label="Why this exposure"
        {...field("reason")}
        error={errors.reason && "Give the reason in a sentence: ten characters or more."}
        lines={3}
        placeholder="What it is for, and what decided"
        className="mb-3"
      />
      {!offered && (
        <>
          <p className="caution">
            The evidence does not offer this exposure
            {at?.p != null && `: all requirements hold with ${chance(at.p)}`}. The reason stands on the card, and the
            set never qualifies.
          </p>
          <TextField
            label="Why outside an offer"
            {...field("outside_reason")}
            lines={2}
            placeholder="What makes it worth it"
            className="mb-3"
          />
        </>
      )}
      <div className="row g-2 mb-3">
        <NumberField className="col-6" label="Valid from" unit="°C" {...field("temp_low_c")} />
        <NumberField className="col-6" label="to" unit="°C" {...field("temp_high_c")} />
        {band && <p className="small text-secondary mb-0">{band.why}</p>}
      </div>
      {!initials && (
        <p className="caution">Choose your initials first (top right): an issued set carries who made it.</p>
      )}
      <Trouble error={bandQuery.error ?? (ofChoice ? null : elsewhere)} className="mb-2" />
      {/* Not before the band is proposed: a set issued a moment earlier would carry none. */}
      <Button type="submit" size="lg" className="w-100" disabled={issue.isPending || bandQuery.isPending || !initials}>
        Issue {exposure(chosen, step)}
        {THIN}s
      </Button>
      <p className="text-secondary mt-2 mb-0">An issued set cannot be changed or undone; a later one supersedes it.</p>
    </Form>
  );
}

/** Base and normal exposure are two calibrations: issuing one of them is said. */
function BaseNotRated({ seconds, onStep }: { seconds: number; onStep: (step: Step) => void }) {
  return (
    <p className="caution">
      The base exposure of {seconds}
      {THIN}s is still the starting value: no first layer was rated.{" "}
      <Button variant="link" className="p-0 align-baseline" onClick={() => onStep("first-layer")}>
        Rate one
      </Button>
    </p>
  );
}
