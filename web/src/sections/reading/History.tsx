import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Choice } from "../../shared/fields/Choice";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment, plural } from "../../shared/format";
import { markFor } from "../../shared/StateMark";
import { ReasonDialog } from "../../shared/ReasonDialog";
import type { Coupon } from "./model";

type Verdict = "under" | "ok" | "over" | "mixed";
const VERDICTS = (["under", "ok", "over", "mixed"] as const).map((one) => [one, markFor(one).word] as const);

/** Who read and judged this coupon, and the steps that need a reason. */
export function History({ coupon }: { coupon: Coupon }) {
  const say = useSay();
  const [asking, setAsking] = useState<"overrule" | "withdraw" | "gone" | null>(null);
  const [verdict, setVerdict] = useState<Verdict>("ok");
  const path = { params: { path: { id_or_code: coupon.code } } };
  const close = () => setAsking(null);
  const overrule = useSend(
    (reason: string, headers) =>
      body(
        POST("/api/coupons/{id_or_code}/judgements", {
          ...path,
          body: { include: coupon.judgement?.include ?? false, verdict, reason },
          headers,
        }),
      ),
    () => {
      say(`${coupon.code} is judged ${markFor(verdict).word}; who and why is recorded.`);
      close();
    },
  );
  const withdraw = useSend(
    ({ reading_id, reason }: { reading_id: string; reason: string }) =>
      body(POST("/api/coupons/{id_or_code}/withdraw", { ...path, body: { reading_id, reason } })),
    () => {
      say(`The reading of ${coupon.code} is withdrawn; it stays on record.`);
      close();
    },
  );
  const found = useSend((_: null) => body(POST("/api/coupons/{id_or_code}/found", path)));
  const gone = useSend(
    (reason: string) => body(POST("/api/coupons/{id_or_code}/gone", { ...path, body: { reason } })),
    () => {
      say(`${coupon.code} is marked as lost.`, () => found.mutate(null));
      close();
    },
  );
  const { reading } = coupon;
  const shared = { onClose: close };
  return (
    <section className="panel" aria-label="Record">
      <h2>Record</h2>
      <Past coupon={coupon} />
      {coupon.confirmed && (
        <p className="small text-secondary">
          Confirmed from a picture: {plural(coupon.confirmed.marks, "mark")} read by the picture reader,{" "}
          {coupon.confirmed.changed} read otherwise by {coupon.reading?.initials}.
        </p>
      )}
      <div className="d-flex flex-wrap gap-3">
        {coupon.reading && (
          <>
            <Button variant="link" onClick={() => setAsking("overrule")}>
              Overrule the verdict…
            </Button>
            <Button variant="link" onClick={() => setAsking("withdraw")}>
              Withdraw the reading…
            </Button>
          </>
        )}
        <Button variant="link" onClick={() => setAsking("gone")}>
          Coupon lost or destroyed…
        </Button>
      </div>
      {asking === "overrule" && (
        <ReasonDialog
          title={`Overrule the verdict of ${coupon.code}`}
          label="Why"
          action="Overrule"
          saving={overrule.isPending}
          error={overrule.error}
          onSave={(reason) => overrule.mutate(reason)}
          {...shared}
        >
          <div className="mb-3">
            <Choice label="It is" value={verdict} onChange={setVerdict} options={VERDICTS} />
          </div>
        </ReasonDialog>
      )}
      {asking === "withdraw" && reading && (
        <ReasonDialog
          title={`Withdraw the reading of ${coupon.code}`}
          label="Why"
          action="Withdraw"
          saving={withdraw.isPending}
          error={withdraw.error}
          onSave={(reason) => withdraw.mutate({ reading_id: reading.id, reason })}
          {...shared}
        />
      )}
      {asking === "gone" && (
        <ReasonDialog
          title={`${coupon.code} is lost or destroyed`}
          label="What became of it"
          action="Mark as lost"
          saving={gone.isPending}
          error={gone.error}
          onSave={(reason) => gone.mutate(reason)}
          {...shared}
        />
      )}
    </section>
  );
}

/** Every reading and judgement, oldest first; what counts now stands out. */
function Past({ coupon }: { coupon: Coupon }) {
  if (!coupon.history.length) return null;
  return (
    <ol className="list-unstyled mb-2">
      {coupon.history.map((reading) => (
        <li key={reading.id} className={reading.id === coupon.reading?.id ? "" : "text-secondary"}>
          <span className="num">{moment(reading.read_at)}</span> {reading.initials}{" "}
          {reading.withdrawn ? "withdrew the reading" : reading.supersedes_id ? "read it again" : "read it"}
          {reading.reason && `: ${reading.reason}`}
        </li>
      ))}
      {coupon.judgement && (
        <li>
          <span className="num">{moment(coupon.judgement.judged_at)}</span> {coupon.judgement.initials}{" "}
          {coupon.judgement.verdict
            ? `judged it ${markFor(coupon.judgement.verdict).word}`
            : coupon.judgement.include
              ? "counted it on purpose"
              : "took it out of the count"}
          : {coupon.judgement.reason}
        </li>
      )}
    </ol>
  );
}
