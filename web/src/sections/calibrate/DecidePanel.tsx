import Button from "react-bootstrap/Button";
import type { Schemas } from "../../shared/api/client";
import {
  chance,
  exposure,
  percent,
  type Policy,
  POLICY_NAMES,
  THIN,
  millimetres,
  temperatures,
} from "../../shared/format";
import { perDegree } from "../../shared/known/perDegree";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration, Step } from "./model";
import type { CampaignDialog } from "./CampaignMenu";
import { ConflictNote } from "./ConflictNote";
import { Evidence } from "./Evidence";
import { Predicted, predictionAt } from "./Predicted";
import { Suggestion } from "./Suggestion";

const ORDER: Policy[] = ["size-true", "centre", "support-safe", "hardest-in-tolerance"];

type Result = Schemas["WindowResult"];
type Props = {
  calibration: Calibration;
  arm: Arm;
  policy: Policy;
  chosen: number | null;
  onPolicy: (policy: Policy) => void;
  onChoose: (exposure_s: number) => void;
  onStep: (step: Step) => void;
  onDialog: (name: CampaignDialog) => void;
};

/** Four schools over the same evidence, each with its chance, and what each exposure would do. */
export function DecidePanel(props: Props) {
  const { calibration, arm, policy, chosen, onPolicy, onStep } = props;
  const result = arm.window;
  const policies = result?.policies ?? null;
  const step = calibration.exposure_step_s;
  if (!result || !policies) return <NothingOffered {...props} />;
  const at = predictionAt(result, chosen);
  return (
    <>
      <fieldset className="policies">
        <legend>What matters most for these parts?</legend>
        {ORDER.map((name) => {
          const value = policies[name] ?? null;
          const holds = result.policies_p?.[name] ?? null;
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
              {holds !== null && <small className="chance num">{chance(holds)} hold</small>}
            </label>
          );
        })}
      </fieldset>
      {at && chosen !== null && <Predicted at={at} calibration={calibration} arm={arm} />}
      {at && !at.offered && chosen !== null && <Outside at={at} result={result} step={step} />}
      {calibration.temperature && (
        <p className="small text-secondary">
          Temperature: <i>{perDegree(calibration.temperature).headline}</i> {perDegree(calibration.temperature).rest},
          from sets between{" "}
          {temperatures(calibration.temperature.fitted_range_c[0], calibration.temperature.fitted_range_c[1], " and ")}.
        </p>
      )}
      <Evidence arm={arm} />
      {!calibration.closed_at && (
        <>
          <Button
            className="w-100"
            size="lg"
            disabled={chosen === null || result.provisional}
            onClick={() => onStep("confirm")}
          >
            Choose {chosen === null ? "–" : exposure(chosen, step)}
            {THIN}s and confirm
          </Button>
          {result.provisional && (
            <p className="text-secondary mt-2">
              A provisional window is not issued on: repeat or leave out what it names.
            </p>
          )}
          <div className="mt-3">{arm.next && <Suggestion next={arm.next} calibration={calibration} arm={arm} />}</div>
        </>
      )}
    </>
  );
}

/** No offer: why, what would change that, and the way to choose all the same. */
function NothingOffered(props: Props) {
  const { calibration, arm, chosen, onChoose, onStep, onDialog } = props;
  const result = arm.window;
  const step = calibration.exposure_step_s;
  const at = result ? predictionAt(result, chosen) : undefined;
  const [best] = result?.p_holds.toSorted((one, other) => other.p - one.p) ?? [];
  return (
    <>
      <h2>Decide</h2>
      {!result && (
        <p>
          {arm.from_prints ? "No print of parts counts yet" : "Nothing is read yet"}, so there is nothing to decide on.
        </p>
      )}
      {result && !result.conflict && <p>{noOffer(result)}</p>}
      <ConflictNote calibration={calibration} arm={arm} onDialog={onDialog} />
      {at && chosen !== null && <Predicted at={at} calibration={calibration} arm={arm} />}
      <Evidence arm={arm} />
      <Button className="w-100" onClick={() => onStep("refine")}>
        What to print next
      </Button>
      {best && !calibration.closed_at && chosen === null && (
        <Button variant="link" className="w-100 text-center mt-2" onClick={() => onChoose(best.exposure_s)}>
          Choose an exposure all the same…
        </Button>
      )}
      {chosen !== null && (
        <>
          <p className="caution mt-3">
            {exposure(chosen, step)}
            {THIN}s is not offered. It can be issued with a reason, which stands on the card; such a set never
            qualifies.
          </p>
          <Button variant="outline-primary" className="w-100" onClick={() => onStep("issue")}>
            Issue {exposure(chosen, step)}
            {THIN}s outside an offer…
          </Button>
        </>
      )}
    </>
  );
}

function Outside({ at, result, step }: { at: Schemas["Prediction"]; result: Result; step: number }) {
  return (
    <Trouble
      className="mb-2"
      error={{
        message: `${exposure(at.exposure_s, step)} s is not offered: all requirements hold with ${chance(at.p ?? 0)}, ${percent(result.cut_offs.offer)} are asked for.`,
      }}
    />
  );
}

function noOffer(result: Result): string {
  if (result.decision === "narrow")
    return "The window is too narrow to settle with this many coupons: no exposure is offered.";
  if (result.decision === "none") return "No exposure is offered.";
  if (result.missing_lanes.length) return "No exposure is offered: a limit was set of which nothing is known yet.";
  return `No exposure is offered yet: ${percent(result.cut_offs.offer)} are asked for.`;
}

function why(name: string, value: number | null, result: Result, { limits, whole_share }: Calibration): string {
  if (whole_share !== null)
    return name === "centre" ? `the highest chance that ${percent(whole_share)} are whole` : "only coupons tell";
  if (name === "size-true")
    return value !== null
      ? `edges as drawn, ±${limits.growth_tol_um ?? 0}${THIN}µm`
      : result.lanes.size
        ? "nothing printed gives nominal size with the chance that is needed"
        : "no sizes were measured";
  if (name === "centre") return "the highest chance";
  if (name === "support-safe")
    return value === null
      ? "no support tips were read"
      : `least light at which ${limits.tips_size_mm ? `${millimetres(limits.tips_size_mm)} tips` : "tips"} and walls hold`;
  return value === null ? "no printer step falls inside the window" : "most light that size and slots allow";
}
