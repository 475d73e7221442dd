import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { CouponDrawing } from "../../shared/coupon/CouponDrawing";
import { FilesMenu } from "../../shared/coupon/FilesMenu";
import { VirtualPrint } from "../../shared/coupon/VirtualPrint";
import { exposure, signed, THIN, threeDigits } from "../../shared/format";
import { markOf, StateMark } from "../../shared/StateMark";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration } from "./model";
import { OneLook } from "./OneLook";
import { PrintedDialog } from "./PrintedDialog";
import { TrayTools } from "./TrayTools";

type Card = Schemas["CouponCard"];

/** The coupons of an arm in the order of exposure. */
export function Tray({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const [printing, setPrinting] = useState<Card | null>(null);
  const [including, setIncluding] = useState<Card | null>(null);
  const opinions = useGet(
    "/api/calibrations/{calibration_id}/questions",
    { params: { path: { calibration_id: calibration.id } } },
    { select: ({ items }) => items.flatMap((question) => question.opinions) },
  ).data;
  if (!arm.coupons.length) return null;
  return (
    <>
      {!calibration.closed_at && <TrayTools calibration={calibration} arm={arm} />}
      <ul className="tray" aria-label="Coupons">
        {arm.coupons.map((card) => (
          <li key={card.id}>
            <TrayCard
              calibration={calibration}
              window={arm.window?.window ?? null}
              card={card}
              opinions={opinionsOn(card.code, opinions ?? [])}
              onPrinted={() => setPrinting(card)}
              onInclude={() => setIncluding(card)}
            />
          </li>
        ))}
      </ul>
      {printing && (
        <PrintedDialog
          calibration={calibration}
          card={printing}
          kin={arm.coupons.filter((one) => one.print_id === printing.print_id)}
          onClose={() => setPrinting(null)}
        />
      )}
      {including && <IncludeDialog card={including} onClose={() => setIncluding(null)} />}
    </>
  );
}

type Window = Schemas["Window"];
type CardProps = { calibration: Calibration; card: Card; onPrinted: () => void; onInclude: () => void };

const outsideOf = (window: Window, exposure_s: number) => exposure_s < window.lower_s || exposure_s > window.upper_s;

/** What other workshops see on a coupon, each with whose it is. */
function opinionsOn(code: string, opinions: Schemas["OpinionView"][]): string[] {
  return opinions.flatMap((opinion) =>
    opinion.readings
      .filter((one) => one.code === code && (one.verdict || one.note))
      .map((one) => `${opinion.workshop}: ${[one.verdict, one.note].filter(Boolean).join(", ")}`),
  );
}

function TrayCard({
  calibration,
  card,
  window,
  opinions,
  onPrinted,
  onInclude,
}: CardProps & { window: Window | null; opinions: string[] }) {
  const plan = calibration.plans[card.design_id];
  const mark = markOf(card);
  const step = exposure(card.exposure_s, calibration.exposure_step_s);
  return (
    <article
      className={`tray-card ${card.left_out ? "out" : ""}`}
      aria-label={`Coupon ${card.code}`}
      data-verdict={card.verdict ?? ""}
      data-kind={card.kind}
    >
      <div className="head">
        <span className="exposure num">
          {step}
          {THIN}s
        </span>
        <StateMark name={mark} word={card.look && !card.reading_id ? card.look : undefined} />
      </div>
      {plan && (
        <Link
          to={`/coupons/${card.code}`}
          aria-label={`${card.status === "read" ? "Reading" : "Drawing"} of coupon ${card.code}`}
        >
          <CouponDrawing plan={plan} states={card.states} />
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
      {card.verdict === "ok" && window && outsideOf(window, card.effective_s) && (
        <span className="small text-secondary">
          within its own limits; the window is narrower: there all requirements hold with the chance an offer needs
        </span>
      )}
      {card.look && !card.reading_id && (
        <span className="small text-secondary">one look by {card.looked_by}: finds the range only</span>
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
      {opinions.map((words) => (
        <span key={words} className="small" data-notice="opinion">
          {words}
        </span>
      ))}
      {card.blind.map((one) => (
        <span key={one.id} className="small">
          {one.comparison ? `${one.initials}: ${one.comparison.summary}` : "a second reading is asked for"}
        </span>
      ))}
      {!calibration.closed_at && (
        <Acts calibration={calibration} card={card} onPrinted={onPrinted} onInclude={onInclude} />
      )}
    </article>
  );
}

/** What can be done with one coupon now. */
function Acts({ calibration, card, onPrinted, onInclude }: CardProps) {
  const say = useSay();
  const print = { params: { path: { print_id: card.print_id } } };
  const back = useSend((_: null) => body(POST("/api/prints/{print_id}/reinstate", print)));
  const cancel = useSend(
    (_: null) => body(POST("/api/prints/{print_id}/cancel", print)),
    () => say(`${card.code} is cancelled.`, () => back.mutate(null)),
  );
  return (
    <>
      <div className="acts no-print">
        {card.status === "planned" && calibration.simulated && (
          <VirtualPrint code={card.code} printId={card.print_id} underWay={calibration.under_way[card.print_id]} />
        )}
        {card.status === "planned" && !calibration.simulated && (
          <>
            <Button size="sm" onClick={onPrinted} aria-label={`Mark ${card.code} as printed`}>
              Mark as printed
            </Button>
          </>
        )}
        {card.status === "planned" && card.way === "separate" && (
          <FilesMenu
            name={`coupon ${card.code}`}
            href={(format) => `/api/coupons/${card.code}/file?format=${format}`}
          />
        )}
        {card.status === "planned" && !calibration.under_way[card.print_id] && (
          <Button size="sm" variant="quiet" onClick={() => cancel.mutate(null)} aria-label={`Cancel ${card.code}`}>
            Cancel
          </Button>
        )}
        {(card.status === "printed" || card.look) && !card.reading_id && <OneLook card={card} />}
        {(card.status === "printed" || (card.look && !card.reading_id)) && (
          <Link
            className="btn btn-primary btn-sm d-inline-flex align-items-center justify-content-center"
            to={`/coupons/${card.code}`}
          >
            Read
          </Link>
        )}
        {card.left_out && (
          <Button size="sm" variant="quiet" onClick={onInclude} aria-label={`Count ${card.code} on purpose`}>
            Count it…
          </Button>
        )}
      </div>
      <Trouble error={cancel.error} />
    </>
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

function IncludeDialog({ card, onClose }: { card: Card; onClose: () => void }) {
  const say = useSay();
  const judge = useSend(
    (reason: string, headers) =>
      body(
        POST("/api/coupons/{id_or_code}/judgements", {
          params: { path: { id_or_code: card.code } },
          body: { include: true, verdict: card.judgement?.verdict ?? null, reason },
          headers,
        }),
      ),
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
