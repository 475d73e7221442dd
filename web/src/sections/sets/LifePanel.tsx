import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FilesMenu } from "../../shared/coupon/FilesMenu";
import { VirtualPrint } from "../../shared/coupon/VirtualPrint";
import { day, decimal, duration, millilitres, THIN, plain } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";
import { NO_START, type Start, startBody, StartTemperature } from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import { useGet } from "../../shared/api/useGet";

/** Does this set still hold, why not, and the one coupon that would renew it. */
export function LifePanel({ code }: { code: string }) {
  const say = useSay();
  const query = useGet("/api/sets/{id_or_code}/life", { params: { path: { id_or_code: code } } });
  const cancel = useSend((print_id: string) =>
    body(POST("/api/prints/{print_id}/cancel", { params: { path: { print_id } } })),
  );
  const plan = useSend(
    (_: null, headers) =>
      body(POST("/api/sets/{id_or_code}/check", { params: { path: { id_or_code: code } }, headers })),
    (made) => say(`Check coupon ${made.coupon} is planned.`, () => cancel.mutate(made.print_id)),
  );
  if (!query.data?.newest) return null;
  const life = query.data;
  const { validity } = life;
  const range = life.re_range;
  const again = `/calibrate/new?material=${range.material_id}&printer=${range.printer_id}&height=${range.layer_height_um}&low=${range.low_s}&high=${range.high_s}`;
  return (
    <section className="panel mb-3 no-print life" aria-label="Does it still hold?">
      <div className="d-flex flex-wrap gap-3 align-items-center">
        <h2 className="m-0">Does it still hold?</h2>
        <StateMark
          name={validity.state === "valid" ? "issued" : validity.state}
          word={validity.state === "valid" ? "it holds" : undefined}
        />
        {validity.renewed_at && (
          <span className="text-secondary">renewed by a check coupon, {day(validity.renewed_at)}</span>
        )}
      </div>
      {validity.causes.length > 0 && (
        <ul className="mt-2 mb-2">
          {validity.causes.map((cause) => (
            <li key={`${cause.rule} ${cause.at}`}>
              <b>{cause.name}</b>, {day(cause.at)}
              {cause.detail && ` · ${cause.detail.replace(/\.$/, "")}`}. {cause.why}{" "}
              {!cause.renewed_by.includes("check") && "Only a new calibration renews it."}
            </li>
          ))}
        </ul>
      )}
      {life.checks.length > 0 && (
        <p className="mb-2">
          Check coupons:{" "}
          {life.checks.map((check, index) => (
            <span key={check.coupon}>
              {index > 0 && ", "}
              <Link to={`/coupons/${check.coupon}`}>{check.coupon}</Link>{" "}
              {check.passed ? "■ within limits" : `✕ ${check.verdict}${check.judged_by && ` by ${check.judged_by}`}`}
              {check.off_pct !== null && ` (dose ${decimal(check.off_pct, 0)}${THIN}%)`}
            </span>
          ))}
        </p>
      )}
      <div className="d-flex flex-wrap gap-2 mt-2 align-items-center">
        {life.waiting.map((coupon) => (
          <CheckOnItsWay key={coupon} coupon={coupon} setCode={code} printer={range.printer_id} />
        ))}
        {!life.waiting.length && (validity.state === "valid" || validity.by_check) && (
          <Button
            variant={validity.state === "valid" ? "quiet" : "primary"}
            disabled={plan.isPending}
            onClick={() => plan.mutate(null)}
          >
            Print a check coupon · {duration(life.cost.duration_s ?? 0)} · {millilitres(life.cost.volume_ml)}
          </Button>
        )}
        {validity.state !== "valid" && (
          <Link className={`btn ${validity.by_check ? "btn-quiet" : "btn-primary"}`} to={again}>
            Recalibrate: {range.exposures_s.map(plain).join(", ")}
            {THIN}s
          </Link>
        )}
      </div>
      <Trouble error={plan.error} className="mt-2" />
    </section>
  );
}

/** A check coupon that is planned or printed: print it, then read it. */
function CheckOnItsWay({ coupon, setCode, printer }: { coupon: string; setCode: string; printer: string }) {
  const say = useSay();
  const query = useGet("/api/coupons/{id_or_code}", { params: { path: { id_or_code: coupon } } });
  const check: Schemas["CouponView"] | undefined = query.data;
  const [start, setStart] = useState<Start>(NO_START);
  const done = useSend(
    (print_id: string) =>
      body(
        POST("/api/prints/{print_id}/printed", {
          params: { path: { print_id } },
          body: { ...startBody(start), outcome: "whole", seen: "", volume_ml: null, bottle_id: null },
        }),
      ),
    () => say(`${coupon} is printed. Wash, dry and cure it before reading.`),
  );
  if (!check) return null;
  if (check.status === "printed")
    return (
      <Link className="btn btn-primary" to={`/coupons/${coupon}`}>
        Read {coupon}
      </Link>
    );
  return (
    <>
      <span>
        Check coupon <Link to={`/coupons/${coupon}`}>{coupon}</Link> is to be printed.
      </span>
      <FilesMenu name={`coupon ${coupon}`} href={(format) => `/api/coupons/${coupon}/file?format=${format}`} />
      {check.simulated ? (
        <VirtualPrint code={coupon} printId={check.print_id} underWay={check.job_id} />
      ) : (
        <>
          <div className="start-fields w-100">
            <StartTemperature
              printer={printer}
              setCode={setCode}
              value={start}
              onChange={setStart}
              errors={done.error?.fields ?? {}}
            />
          </div>
          <Button size="sm" disabled={done.isPending} onClick={() => done.mutate(check.print_id)}>
            Mark {coupon} as printed
          </Button>
          <Trouble error={done.error && !done.error.fields.outside_band ? done.error : null} />
        </>
      )}
    </>
  );
}
