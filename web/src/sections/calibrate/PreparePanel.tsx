import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { useTechnician } from "../../app/people/technician";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { clockTime, moment } from "../../shared/format";
import { Gates } from "../../shared/Gates";
import { Trouble } from "../../shared/Trouble";
import { useKept } from "../../shared/useKept";
import type { Arm, Calibration } from "./model";
import { useGet } from "../../shared/api/useGet";

type State = Schemas["PreparationState"];

/** Before a campaign and before each print: what to look at. It may be skipped; who skips is recorded. */
export function PreparePanel({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const query = useGet(
    "/api/calibrations/{calibration_id}/preparing",
    { params: { path: { calibration_id: calibration.id } } },
    { enabled: !calibration.closed_at },
  );
  if (!query.data) return null;
  const { campaign, print, gates, vat } = query.data;
  const fresh = arm.coupons.every((card) => card.status === "planned");
  const now = !campaign.done && fresh ? campaign : arm.to_print.length ? print : null;
  return (
    <>
      <Gates gates={gates} />
      {vat && !calibration.simulated && arm.to_print.length > 0 && (
        <p className="caution">
          {vat} <Link to={`/blend/vat/${calibration.printer_id}`}>Its vat</Link>
        </p>
      )}
      {now && !calibration.simulated && <Checklist key={now.occasion} state={now} calibrationId={calibration.id} />}
    </>
  );
}

function Checklist({ state, calibrationId }: { state: State; calibrationId: string }) {
  const { initials } = useTechnician();
  const [ticked, setTicked, forget] = useKept<string[]>(`prepare.${calibrationId}.${state.occasion}`, []);
  const send = useSend(
    (given: { ticked: string[]; skipped: boolean }, headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/preparing", {
          params: { path: { calibration_id: calibrationId } },
          body: { occasion: state.occasion, ...given },
          headers,
        }),
      ),
    forget,
  );
  if (state.done)
    return (
      <p className="small text-secondary" data-prepared={state.occasion}>
        {state.occasion === "print" ? "Print" : "Calibration"} {state.skipped ? "not checked, skipped" : "checked"} by{" "}
        {state.initials}, {state.at && moment(state.at)}.
      </p>
    );
  const all = ticked.length === state.checks.length;
  const everything = state.checks.map((check) => check.key);
  return (
    <section
      className="checklist mb-3"
      aria-label={state.occasion === "campaign" ? "Before you start" : "Before this print"}
    >
      <h2>{state.occasion === "campaign" ? "Before you start" : "Before this print"}</h2>
      {state.earlier && (
        <Button
          className="w-100 mb-2"
          disabled={!initials || send.isPending}
          onClick={() => send.mutate({ ticked: everything, skipped: false })}
        >
          Still as checked at {clockTime(state.earlier.at)} by {state.earlier.initials}
        </Button>
      )}
      {state.checks.map((check) => (
        <div key={check.key}>
          <Form.Check
            id={`prepare-${state.occasion}-${check.key}`}
            label={check.text}
            checked={ticked.includes(check.key)}
            onChange={(event) =>
              setTicked(event.target.checked ? [...ticked, check.key] : ticked.filter((key) => key !== check.key))
            }
          />
          {check.looks_like && <p className="small text-secondary">{check.looks_like}</p>}
          {check.caution && <p className="small caution">{check.caution}</p>}
        </div>
      ))}
      {!initials && <p className="small">Choose your initials first (top right).</p>}
      <Trouble error={send.error} />
      <div className="d-flex gap-2 mt-2">
        <Button
          size="sm"
          variant={state.earlier ? "quiet" : "primary"}
          disabled={!all || !initials || send.isPending}
          onClick={() => send.mutate({ ticked, skipped: false })}
        >
          All checked
        </Button>
        <Button
          size="sm"
          variant="quiet"
          disabled={!initials || send.isPending}
          onClick={() => send.mutate({ ticked, skipped: true })}
        >
          Skip; it is recorded
        </Button>
      </div>
    </section>
  );
}
