import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { CouponDrawing, type States } from "../../shared/coupon/CouponDrawing";
import { exposure, plural, signed, THIN, threeDigits } from "../../shared/format";
import { markOf, StateMark } from "../../shared/StateMark";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { NO_START, type Start, startBody, StartTemperature } from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration } from "./model";
import { TrayTools } from "./TrayTools";
import { VirtualPrint } from "./VirtualPrint";

type Card = Schemas["CouponCard"];

/** The coupons of an arm in the order of exposure. */
export function Tray({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const [printing, setPrinting] = useState<Card | null>(null);
  const [including, setIncluding] = useState<Card | null>(null);
  if (!arm.coupons.length) return null;
  return (
    <>
      {!calibration.closed_at && <TrayTools calibration={calibration} arm={arm} />}
      <ul className="tray" aria-label="Coupons">
        {arm.coupons.map((card) => (
          <li key={card.id}>
            <TrayCard calibration={calibration} card={card} onPrinted={() => setPrinting(card)} onInclude={() => setIncluding(card)} />
          </li>
        ))}
      </ul>
      {printing && <PrintedDialog printer={calibration.printer_id} card={printing} kin={arm.coupons.filter((one) => one.print_id === printing.print_id)} step={calibration.exposure_step_s} onClose={() => setPrinting(null)} />}
      {including && <IncludeDialog card={including} onClose={() => setIncluding(null)} />}
    </>
  );
}

function TrayCard({ calibration, card, onPrinted, onInclude }: { calibration: Calibration; card: Card; onPrinted: () => void; onInclude: () => void }) {
  const say = useSay();
  const plan = calibration.plans[card.design_id];
  const mark = markOf(card);
  const step = exposure(card.exposure_s, calibration.exposure_step_s);
  const print = { params: { path: { print_id: card.print_id } } };
  const back = useSend((_: null) => body(POST("/api/prints/{print_id}/reinstate", print)));
  const cancel = useSend((_: null) => body(POST("/api/prints/{print_id}/cancel", print)), () => say(`${card.code} is taken back.`, () => back.mutate(null)));
  return (
    <article className={`tray-card ${card.left_out ? "out" : ""}`} aria-label={`Coupon ${card.code}`} data-verdict={card.verdict ?? ""} data-kind={card.kind}>
      <div className="head">
        <span className="exposure num">
          {step}
          {THIN}s
        </span>
        <StateMark name={mark} />
      </div>
      {plan && (
        <Link to={`/coupons/${card.code}`} aria-label={`${card.status === "read" ? "Reading" : "Drawing"} of coupon ${card.code}`}>
          <CouponDrawing plan={plan} states={card.states as States} />
        </Link>
      )}
      <div className="facts">
        <span className="num">{card.code}</span>
        <b className="num">{card.growth_um !== null ? `${signed(card.growth_um)}${THIN}µm` : ""}</b>
        {card.walls && <Fact name="walls" of={card.walls} />}
        {card.slots && <Fact name="slots" of={card.slots} />}
        {card.tips && <Fact name="tips" of={card.tips} />}
        {card.bloom_um !== null && (
          <>
            <span>lost in Z</span>
            <b className="num">
              {signed(card.bloom_um)}
              {THIN}µm
            </b>
          </>
        )}
      </div>
      {card.faults.length > 0 && (
        <span className="small">
          {card.faults.join(", ")}
          {card.included && ", counted on purpose"}
        </span>
      )}
      {card.judgement?.verdict && (
        <span className="small">
          overruled by {card.judgement.initials}: {card.judgement.reason}
        </span>
      )}
      {card.is_repeat && <span className="small text-secondary">repeat</span>}
      {card.dose_ratio !== null && (
        <span className="small text-secondary" title="Light of its place, by the plate map">
          got {threeDigits(card.effective_s)}
          {THIN}s there ({(100 * card.dose_ratio).toFixed(0)}
          {THIN}% of the light)
        </span>
      )}
      {card.range_only && <span className="small text-secondary">finds the range only: no plate map</span>}
      {card.way === "strip" && <span className="small text-secondary">dose strip: only seeds</span>}
      {card.blind.map((one) => (
        <span key={one.id} className="small">
          {one.comparison ? `${one.initials}: ${one.comparison.summary}` : "a second reading is asked for"}
        </span>
      ))}
      {!calibration.closed_at && (
        <div className="acts no-print">
          {card.status === "planned" && calibration.simulated && <VirtualPrint calibration={calibration} card={card} />}
          {card.status === "planned" && !calibration.simulated && (
            <>
              <Button size="sm" onClick={onPrinted} aria-label={`Mark ${card.code} as printed`}>
                Printed
              </Button>
            </>
          )}
          {card.status === "planned" && !calibration.under_way[card.print_id] && (
            <Button size="sm" variant="quiet" onClick={() => cancel.mutate(null)} aria-label={`Take back ${card.code}`}>
              Take back
            </Button>
          )}
          {card.status === "printed" && (
            <Link className="btn btn-primary btn-sm d-inline-flex align-items-center justify-content-center" to={`/coupons/${card.code}`}>
              Read
            </Link>
          )}
          {card.left_out && (
            <Button size="sm" variant="quiet" onClick={onInclude} aria-label={`Count ${card.code} on purpose`}>
              Count it…
            </Button>
          )}
        </div>
      )}
      <Trouble error={cancel.error} />
    </article>
  );
}

function Fact({ name, of }: { name: string; of: [number, number] }) {
  return (
    <>
      <span>{name}</span>
      <b className="num">
        {of[0]} of {of[1]}
      </b>
    </>
  );
}

const OUTCOMES = ["whole", "missing parts", "failed"] as const;
type Outcome = (typeof OUTCOMES)[number];

function PrintedDialog({ printer, card, kin, step, onClose }: { printer: string; card: Card; kin: Card[]; step: number; onClose: () => void }) {
  const say = useSay();
  const [start, setStart] = useState<Start>({ ...NO_START, place: localStorage.getItem("setback.place") ?? "room" });
  const [outcome, setOutcome] = useState<Outcome>("whole");
  const [seen, setSeen] = useState("");
  const path = { params: { path: { print_id: card.print_id } } };
  const undo = useSend((_: null) => body(POST("/api/prints/{print_id}/unprinted", path)));
  const done = useSend(
    (_: null) => body(POST("/api/prints/{print_id}/printed", { ...path, body: { ...startBody(start), outcome, seen, volume_ml: null } })),
    () => {
      localStorage.setItem("setback.place", start.place);
      say(`${kin.length > 1 ? card.print_code : card.code} is printed. Wash, dry and cure it before reading.`, () => undo.mutate(null));
      onClose();
    },
  );
  const errors = done.error?.fields ?? {};
  return (
    <Modal show onHide={onClose} aria-labelledby="printed-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          done.mutate(null);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="printed-title" className="h3 m-0">
            {kin.length > 1 ? `${card.print_code}, ${plural(kin.length, card.way === "strip" ? "area" : "coupon")},` : `${card.code} at ${exposure(card.exposure_s, step)}${THIN}s`} is printed
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <p className="caution">Gloves on: the coupon is uncured. Solvent away from heat and sparks.</p>
          {card.way === "strip" && <p className="caution">Switch the lift back on now: the next normal print waits until that is said.</p>}
          <div className="start-fields">
            <StartTemperature autoFocus printer={printer} value={start} onChange={setStart} errors={errors} />
          </div>
          <p className="small text-secondary mb-0">A set is valid only near this temperature.</p>
          <fieldset className="mt-3">
            <legend className="form-label">It came out</legend>
            <div className="btn-group w-100" role="group" aria-label="It came out">
              {OUTCOMES.map((one) => (
                <Button key={one} variant={outcome === one ? "primary" : "quiet"} aria-pressed={outcome === one} onClick={() => setOutcome(one)}>
                  {one}
                </Button>
              ))}
            </div>
            {outcome !== "whole" && <Form.Text>The next print on this printer waits until the vat is searched and the film checked.</Form.Text>}
          </fieldset>
          <Form.Group controlId="seen" className="mt-3">
            <Form.Label>What was seen</Form.Label>
            <Form.Control value={seen} onChange={(event) => setSeen(event.target.value)} />
          </Form.Group>
          <Trouble error={done.error && !errors.temp_c && !errors.temp_place ? done.error : null} className="mt-2" />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={done.isPending}>
            It is printed
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

function IncludeDialog({ card, onClose }: { card: Card; onClose: () => void }) {
  const say = useSay();
  const judge = useSend(
    (reason: string, headers) =>
      body(POST("/api/coupons/{id_or_code}/judgements", { params: { path: { id_or_code: card.code } }, body: { include: true, verdict: (card.judgement?.verdict ?? null) as "ok" | null, reason }, headers })),
    () => {
      say(`${card.code} counts now; who and why is recorded.`);
      onClose();
    },
  );
  return (
    <ReasonDialog
      title={`Count ${card.code} although ${card.faults.join(" and ")}`}
      label="Why it should count"
      action="Count it"
      saving={judge.isPending}
      error={judge.error}
      onClose={onClose}
      onSave={(reason) => judge.mutate(reason)}
    />
  );
}
