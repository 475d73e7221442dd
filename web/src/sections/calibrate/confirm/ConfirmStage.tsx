import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { useTechnician } from "../../../app/people/technician";
import { useSay } from "../../../app/toasts";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { Choice } from "../../../shared/fields/Choice";
import { NumberField } from "../../../shared/fields/NumberField";
import { TextField } from "../../../shared/fields/TextField";
import { DraftNote } from "../../../shared/fields/DraftNote";
import { useEntry } from "../../../shared/fields/useEntry";
import { exposure, moment, percent, THIN, threeDigits } from "../../../shared/format";
import { Loaded } from "../../../shared/Loading";
import { Trouble } from "../../../shared/Trouble";
import type { Arm, Calibration, Step } from "../model";
import { WhereAndWhat } from "./WhereAndWhat";
import { useGet } from "../../../shared/api/useGet";
import { wordsOf } from "../../../shared/words";

type View = Schemas["ConfirmView"];
type Place = Schemas["ConfirmInput"]["place"];
const PLACES = wordsOf<Place>({ centre: "centre", "worst place": "worst place" });
/** Nothing is chosen for a person: whether it passed is theirs to say. */
const PASSED = "passed";
type Shown = {
  exposure_s: number | null;
  place: Place;
  what: string;
  /** Key of what was seen, or that it passed; null while nobody said. */
  shown: string | null;
  note: string;
  outside_reason: string;
};

/** A demanding part at the chosen exposure, at the centre and at the worst place; a finding may point elsewhere. */
export function ConfirmStage({
  calibration,
  arm,
  chosen,
  onStep,
}: {
  calibration: Calibration;
  arm: Arm;
  chosen: number | null;
  onStep: (step: Step) => void;
}) {
  const query = useGet("/api/calibrations/{calibration_id}/confirm", {
    params: { path: { calibration_id: calibration.id }, query: { arm: arm.number } },
  });
  return (
    <Loaded query={query}>
      {(view) => (
        <div className="calibration">
          <div className="strip-place">
            <section className="panel" aria-label="Confirmations">
              {view.confirmations.length ? (
                <ul className="confirmations">
                  {view.confirmations.map((one) => (
                    <li key={one.id}>
                      <Confirmation one={one} view={view} calibration={calibration} />
                    </li>
                  ))}
                </ul>
              ) : (
                <div className="stage-empty wide">
                  <h2>Does it hold on a real part?</h2>
                  <p>
                    Print a demanding part, or the support coupon, at the chosen exposure: once at the centre and once
                    at the worst place of the plate. Light is not even over a plate, and coupons are kinder than parts.
                  </p>
                  <WhereAndWhat calibration={calibration} />
                </div>
              )}
            </section>
          </div>
          <aside className="panel next-place" aria-label="Confirm">
            {view.confirmed_s.length > 0 && (
              <p>
                <b>Confirmed:</b>{" "}
                {view.confirmed_s.map((one) => `${exposure(one, calibration.exposure_step_s)}${THIN}s`).join(", ")}, at
                the centre and at the worst place.
              </p>
            )}
            <UsablePlate calibration={calibration} view={view} chosen={chosen} />
            {!calibration.closed_at && chosen !== null && (
              <Button
                variant={view.confirmed_s.includes(chosen) ? "primary" : "quiet"}
                className="w-100 mb-3"
                onClick={() => onStep("issue")}
              >
                {view.confirmed_s.includes(chosen) ? "Go on to Issue" : "Skip confirmation"}
              </Button>
            )}
            {!calibration.closed_at ? (
              <ConfirmForm
                view={view}
                calibration={calibration}
                arm={arm}
                chosen={chosen}
                key={view.confirmations.length}
              />
            ) : (
              <p className="mb-0">The calibration is closed.</p>
            )}
          </aside>
          <div className="tray-place" />
        </div>
      )}
    </Loaded>
  );
}

/** How much of the plate stays inside the window at the chosen exposure, by the printer's map. */
function UsablePlate({ calibration, view, chosen }: { calibration: Calibration; view: View; chosen: number | null }) {
  const question =
    view.window_s && chosen !== null
      ? { exposure_s: chosen, window_lower_s: view.window_s[0], window_upper_s: view.window_s[1] }
      : null;
  const query = useGet(
    "/api/printers/{printer_id}/plate",
    question && { params: { path: { printer_id: calibration.printer_id }, query: question } },
  );
  if (!query.data || chosen === null) return null;
  const place = `/shelf/printers/${calibration.printer_id}/plate`;
  return query.data.result ? (
    <p>
      Usable plate at {exposure(chosen, calibration.exposure_step_s)}
      {THIN}s: <b className="num">{percent(query.data.result.usable_fraction)}</b>. <Link to={place}>See the map</Link>
    </p>
  ) : (
    <p className="text-secondary">
      No light map of this plate. <Link to={place}>Measure it</Link>, and the worst place is known.
    </p>
  );
}

function ConfirmForm({
  view,
  calibration,
  arm,
  chosen,
}: {
  view: View;
  calibration: Calibration;
  arm: Arm;
  chosen: number | null;
}) {
  const say = useSay();
  const { initials } = useTechnician();
  const passed = new Set(
    view.confirmations.filter((one) => one.finding === null && one.exposure_s === chosen).map((one) => one.place),
  );
  const first: Shown = {
    exposure_s: chosen,
    place: passed.has("centre") ? "worst place" : "centre",
    what: view.confirmations.at(-1)?.what ?? "support coupon",
    shown: null,
    note: "",
    outside_reason: "",
  };
  const entry = useEntry<Shown>(first, `confirm.${arm.id}.${view.confirmations.length}`);
  const { values, set } = entry;
  const { exposure_s, place, shown } = values;
  const finding = shown === PASSED ? null : shown;
  const found = view.findings.find((one) => one.key === finding);
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/confirm", {
          params: { path: { calibration_id: calibration.id } },
          body: {
            arm_id: arm.id,
            exposure_s: exposure_s ?? 0,
            place,
            what: values.what,
            finding,
            note: values.note,
            outside_reason: values.outside_reason.trim() || null,
          },
          headers,
        }),
      ),
    () => {
      entry.forget();
      // What it came to, and the way on, stand at the top.
      window.scrollTo(0, 0);
      say(finding ? "The finding is recorded." : `It passed at the ${place}.`);
    },
  );
  const simulated = useSend(
    (_: null) =>
      body(
        POST("/api/arms/{arm_id}/virtual-confirmation", {
          params: { path: { arm_id: arm.id } },
          body: { exposure_s: exposure_s ?? 0, place },
        }),
      ),
    (seen) => set({ what: seen.what, shown: seen.finding ?? PASSED, note: seen.note }),
  );
  const { field, errors, elsewhere } = entry.checked(send.error);
  const outside =
    exposure_s !== null && (view.window_s === null || exposure_s < view.window_s[0] || exposure_s > view.window_s[1]);
  return (
    <Form
      noValidate
      className="d-grid gap-3"
      aria-label="Confirm an exposure"
      onSubmit={(event) => {
        event.preventDefault();
        if (initials && shown !== null) send.mutate(null);
      }}
    >
      <h2 className="mb-0">How did it come out?</h2>
      <DraftNote entry={entry} className="mb-0" />
      <NumberField
        label="Exposure"
        unit="s"
        {...field("exposure_s")}
        hint={view.window_s ? `Window ${view.window_s.map(threeDigits).join("–")} s` : "There is no window yet"}
      />
      {(outside || errors.outside_reason) && (
        <TextField
          label="Why outside the window"
          {...field("outside_reason")}
          hint="It is recorded with the confirmation."
        />
      )}
      <Choice label="Where on the plate" {...field("place")} options={PLACES} />
      {place === "worst place" && (
        <p className="small text-secondary mb-0">
          {view.worst_place ?? "No plate map: take the corner that has failed before, or any corner."}
        </p>
      )}
      {calibration.simulated && exposure_s !== null && (
        <div>
          <Button variant="quiet" size="sm" disabled={simulated.isPending} onClick={() => simulated.mutate(null)}>
            Print it on the simulated printer
          </Button>
          <Trouble error={simulated.error} />
        </div>
      )}
      <TextField label="What was printed" {...field("what")} />
      <fieldset>
        <legend className="form-label">What it showed</legend>
        <Form.Check
          type="radio"
          name="finding"
          id="finding-none"
          label="nothing: it passed"
          checked={shown === PASSED}
          onChange={() => set({ shown: PASSED })}
        />
        {view.findings.map((one) => (
          <Form.Check
            key={one.key}
            type="radio"
            name="finding"
            id={`finding-${one.key}`}
            label={one.seen.toLowerCase()}
            checked={shown === one.key}
            onChange={() => set({ shown: one.key })}
          />
        ))}
      </fieldset>
      {found && (
        <p className="caution mb-0">
          Suspect {found.suspect}. {found.advice}
        </p>
      )}
      <TextField label="Note" {...field("note")} lines={2} />
      {!initials && <p className="caution mb-0">Choose your initials first (top right).</p>}
      <Trouble error={elsewhere} />
      <Button
        type="submit"
        variant={passed.size > 1 && !finding ? "quiet" : "primary"}
        disabled={!initials || exposure_s === null || shown === null || send.isPending}
      >
        {finding ? "Record the finding" : shown ? "Record that it passed" : "Record"}
      </Button>
    </Form>
  );
}

function Confirmation({
  one,
  view,
  calibration,
}: {
  one: Schemas["Confirmation"];
  view: View;
  calibration: Calibration;
}) {
  const say = useSay();
  const finding = view.findings.find((held) => held.key === one.finding);
  const path = { params: { path: { confirmation_id: one.id } } };
  const back = useSend((_: null) => body(POST("/api/confirmations/{confirmation_id}/restore", path)));
  const withdraw = useSend(
    (_: null) =>
      body(
        POST("/api/confirmations/{confirmation_id}/withdraw", { ...path, body: { reason: "withdrawn on the page" } }),
      ),
    () => say(`${one.code} is withdrawn.`, () => back.mutate(null)),
  );
  return (
    <article aria-label={`Confirmation ${one.code}`}>
      <div>
        <b className={finding ? "found" : "passed"}>{finding ? "▲ finding" : "■ passed"}</b>{" "}
        <span className="num">
          {exposure(one.exposure_s, calibration.exposure_step_s)}
          {THIN}s
        </span>{" "}
        {one.what}, {one.place}{" "}
        <span className="text-secondary">
          · {one.initials}, {moment(one.confirmed_at)}
        </span>
      </div>
      {finding && (
        <p className="mb-0">
          {finding.seen}: suspect {finding.suspect}. {finding.advice}
        </p>
      )}
      {one.outside_reason && <p className="mb-0">Outside the window because: {one.outside_reason}</p>}
      {one.note && <p className="mb-0 text-secondary">{one.note}</p>}
      {!calibration.closed_at && (
        <Button size="sm" variant="quiet" onClick={() => withdraw.mutate(null)} aria-label={`Withdraw ${one.code}`}>
          Withdraw
        </Button>
      )}
      <Trouble error={withdraw.error} />
    </article>
  );
}
