import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { duration, exposure, millilitres, plural, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { KIND_NAMES, type Arm, type Calibration } from "./model";
import { ConflictNote } from "./ConflictNote";
import { Evidence } from "./Evidence";
import { Notices } from "./Notices";

type Quote = Schemas["Quote"];
type Plan = Schemas["PlanInput"];

/** What to print or read next, and what it costs. */
export function NextPanel({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const [custom, setCustom] = useState(false);
  const closed = Boolean(calibration.closed_at);
  if (!arm.coupons.length) return closed ? <p className="mb-0">Nothing was printed in this arm.</p> : <LadderForm calibration={calibration} arm={arm} />;
  return (
    <>
      <h2>What now</h2>
      {arm.to_read.length > 0 && (
        <div className="mb-3">
          <p className="mb-2">{plural(arm.to_read.length, "coupon")} printed and not read. Wash, dry and cure first: an uncured reading is provisional.</p>
          <Link className="btn btn-primary w-100" to={`/coupons/${arm.to_read[0]}`}>
            Read {arm.to_read[0]}
          </Link>
        </div>
      )}
      {arm.to_print.length > 0 && (
        <p className="caution">
          {plural(arm.to_print.length, "coupon")} to print. Gloves and eye protection; vat level, plate clean, bottle shaken. Mark each in the tray when it is out.
        </p>
      )}
      {!closed && arm.next.map((next) => <Advice key={next.kind} next={next} calibration={calibration} arm={arm} several={arm.next.length > 1} />)}
      <ConflictNote calibration={calibration} arm={arm} />
      <Evidence arm={arm} />
      {!closed && (
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

function usePlan(arm: Arm, onDone?: () => void) {
  const say = useSay();
  const cancel = useSend((id: string) => body(POST("/api/prints/{print_id}/cancel", { params: { path: { print_id: id } } })));
  return useSend(
    (plan: Plan, headers) => body(POST("/api/arms/{arm_id}/plan", { params: { path: { arm_id: arm.id } }, body: plan, headers })),
    (made) => {
      say(`Planned ${made.coupons.join(", ")}. The code is embossed on the coupon.`, () => made.print_ids.forEach((id) => cancel.mutate(id)));
      onDone?.();
    },
  );
}

function Advice({ next, calibration, arm, several }: { next: Schemas["NextStep"]; calibration: Calibration; arm: Arm; several: boolean }) {
  const plan = usePlan(arm);
  const { advice, cost, kind } = next;
  const exposures = advice.action === "print" && advice.exposure_s !== null ? [advice.exposure_s] : advice.repeat_exposures_s;
  const planned = arm.coupons.filter((c) => c.kind === kind && c.status !== "read" && exposures.includes(c.exposure_s));
  const title = { print: "Next coupon", repeat: "Print again", done: "Closed in", review: "Look before printing more" }[advice.action];
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
      <p className={advice.action === "repeat" || advice.action === "review" ? "trouble mt-1" : "mb-1"}>{advice.reason}</p>
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
            onClick={() => plan.mutate({ kind: kind as "flat", exposures_s: exposures, thickness_mm: null, is_repeat: advice.action === "repeat" })}
          >
            Plan {exposures.length > 1 ? plural(exposures.length, "coupon") : "it"} · {duration(cost.duration_s)} · {millilitres(cost.volume_ml)}
          </Button>
        )
      )}
      {cost && planned.length === 0 && <Notices notices={cost.warnings} />}
      <Trouble error={plan.error} className="mt-2" />
    </section>
  );
}

function useQuote(key: unknown[], ready: boolean, ask: () => Promise<Quote>) {
  return useQuery<Quote, ApiError>({ queryKey: ["quote", ...key], queryFn: ask, enabled: ready, placeholderData: keepPreviousData, retry: false });
}

function LadderForm({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const [low, setLow] = useState<number | null>(calibration.low_s);
  const [high, setHigh] = useState<number | null>(calibration.high_s);
  const [count, setCount] = useState<number | null>(5);
  const [spacing, setSpacing] = useState<"geometric" | "linear">("geometric");
  const [kind, setKind] = useState<"flat" | "support">("flat");
  const [thickness, setThickness] = useState<number | null>(null);
  const plan = usePlan(arm);
  const given = { low_s: low ?? 0, high_s: high ?? 0, count: count ?? 0, spacing, kind, thickness_mm: thickness };
  const ready = low !== null && high !== null && count !== null;
  const quote = useQuote([arm.id, given], ready, () => body(POST("/api/arms/{arm_id}/quote-ladder", { params: { path: { arm_id: arm.id } }, body: given })));
  const errors = quote.error?.fields ?? {};
  const priced = quote.error ? undefined : quote.data;
  return (
    <Form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        if (priced && ready) plan.mutate({ kind, exposures_s: priced.coupons.map((c) => c.exposure_s), thickness_mm: thickness, is_repeat: false });
      }}
    >
      <h2>Find the range</h2>
      <p className="text-secondary">Print the fast coupon at deliberately distant exposures, to see both failures; then close in.</p>
      <div className="row g-2">
        <NumberField className="col-6" label="Lowest" unit="s" value={low} onChange={setLow} error={errors.low_s} />
        <NumberField className="col-6" label="Highest" unit="s" value={high} onChange={setHigh} error={errors.high_s} />
        <NumberField className="col-6" label="Coupons" value={count} onChange={setCount} error={errors.count} />
        <Form.Group className="col-6" controlId="ladder-spacing">
          <Form.Label>Steps</Form.Label>
          <Form.Select value={spacing} onChange={(event) => setSpacing(event.target.value as "geometric")}>
            <option value="geometric">equal ratio</option>
            <option value="linear">equal seconds</option>
          </Form.Select>
        </Form.Group>
        <KindChoice kind={kind} onKind={setKind} className="col-6" />
        <NumberField className="col-6" label="Thickness" unit="mm" value={thickness} onChange={setThickness} error={errors.thickness_mm} hint={priced ? `own: ${priced.thickness_mm.toFixed(2)}` : undefined} />
      </div>
      <QuoteCard quote={priced} step={calibration.exposure_step_s} />
      <Trouble error={quote.error && !Object.keys(errors).length ? quote.error : null} className="mt-2" />
      <Button type="submit" className="w-100 mt-3" disabled={!priced || plan.isPending}>
        {priced ? `Plan ${plural(priced.coupons.length, "coupon")} · ${duration(priced.duration_s)} · ${millilitres(priced.volume_ml)}` : "Plan"}
      </Button>
      <Trouble error={plan.error} className="mt-2" />
    </Form>
  );
}

function CustomForm({ calibration, arm, onDone }: { calibration: Calibration; arm: Arm; onDone: () => void }) {
  const [text, setText] = useState("");
  const [kind, setKind] = useState<"flat" | "support">("support");
  const [thickness, setThickness] = useState<number | null>(null);
  const [repeat, setRepeat] = useState(false);
  const plan = usePlan(arm, onDone);
  const exposures = text.trim() ? text.trim().split(/[\s;]+/).map((part) => Number(part.replace(",", "."))) : [];
  const wrong = exposures.some((value) => !(value > 0));
  const given: Plan = { kind, exposures_s: exposures, thickness_mm: thickness, is_repeat: repeat };
  const quote = useQuote([arm.id, "custom", given], exposures.length > 0 && !wrong, () =>
    body(POST("/api/arms/{arm_id}/quote", { params: { path: { arm_id: arm.id } }, body: given })),
  );
  const errors = quote.error?.fields ?? {};
  const priced = quote.error || wrong ? undefined : quote.data;
  const problem = wrong ? "Give seconds, separated by spaces." : Object.entries(errors).find(([name]) => name.startsWith("exposures_s"))?.[1];
  return (
    <Form
      noValidate
      className="border-top pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (priced) plan.mutate(given);
      }}
    >
      <div className="row g-2">
        <Form.Group className="col-12" controlId="custom-exposures">
          <Form.Label>Exposures, s</Form.Label>
          <Form.Control autoFocus className="num" autoComplete="off" placeholder="2.2 2.6 3.1" value={text} isInvalid={Boolean(problem)} onChange={(event) => setText(event.target.value)} />
          <Form.Control.Feedback type="invalid">{problem}</Form.Control.Feedback>
        </Form.Group>
        <KindChoice kind={kind} onKind={setKind} className="col-6" />
        <NumberField className="col-6" label="Thickness" unit="mm" value={thickness} onChange={setThickness} error={errors.thickness_mm} />
        <div className="col-12">
          <Form.Check id="custom-repeat" label="A repeat: supersedes earlier ones at its exposure" checked={repeat} onChange={(event) => setRepeat(event.target.checked)} />
        </div>
      </div>
      <QuoteCard quote={exposures.length ? priced : undefined} step={calibration.exposure_step_s} />
      <Button type="submit" className="w-100 mt-3" disabled={!priced || !exposures.length || plan.isPending}>
        {priced && exposures.length ? `Plan ${plural(exposures.length, "coupon")} · ${duration(priced.duration_s)} · ${millilitres(priced.volume_ml)}` : "Plan"}
      </Button>
      <Trouble error={plan.error} className="mt-2" />
    </Form>
  );
}

function KindChoice({ kind, onKind, className }: { kind: "flat" | "support"; onKind: (kind: "flat" | "support") => void; className: string }) {
  return (
    <Form.Group className={className} controlId="coupon-kind">
      <Form.Label>Coupon</Form.Label>
      <Form.Select value={kind} onChange={(event) => onKind(event.target.value as "flat")}>
        <option value="flat">flat</option>
        <option value="support">support tips</option>
      </Form.Select>
    </Form.Group>
  );
}

function QuoteCard({ quote, step }: { quote: Quote | undefined; step: number }) {
  if (!quote) return null;
  return (
    <div className="mt-3">
      <p className="mb-1">
        <b>Tells:</b> {quote.tells} <b>Does not tell:</b> {quote.does_not_tell}
      </p>
      <table className="w-100" aria-label="What it costs">
        <tbody>
          {quote.coupons.map((coupon) => (
            <tr key={coupon.exposure_s}>
              <td className="num">
                {exposure(coupon.exposure_s, step)}
                {THIN}s
              </td>
              <td className="num text-end">{duration(coupon.duration_s)}</td>
              <td className="num text-end">{millilitres(coupon.volume_ml)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Notices notices={quote.warnings} />
    </div>
  );
}
