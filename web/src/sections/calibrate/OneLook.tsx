import Button from "react-bootstrap/Button";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { exposure, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration } from "./model";

type Card = Schemas["CouponCard"];
const VERDICTS = ["under", "right", "over"] as const;

/** One look at a coupon: it seeds a range and counts as no more than that. */
export function OneLook({ card }: { card: Card }) {
  const say = useSay();
  const path = { params: { path: { id_or_code: card.code } } };
  const withdraw = useSend((_: null) => body(POST("/api/coupons/{id_or_code}/look/withdraw", path)));
  const look = useSend(
    (verdict: (typeof VERDICTS)[number], headers) =>
      body(POST("/api/coupons/{id_or_code}/look", { ...path, body: { verdict }, headers })),
    (kept) => say(`${card.code} looks ${kept.verdict}.`, () => withdraw.mutate(null)),
  );
  return (
    <>
      <ButtonGroup size="sm" aria-label={`One look at ${card.code}`} className="one-look">
        {VERDICTS.map((verdict) => (
          <Button
            key={verdict}
            variant={card.look === verdict ? "primary" : "quiet"}
            aria-pressed={card.look === verdict}
            disabled={look.isPending}
            onClick={() => (card.look === verdict ? withdraw.mutate(null) : look.mutate(verdict))}
          >
            {verdict}
          </Button>
        ))}
      </ButtonGroup>
      <Trouble error={look.error ?? withdraw.error} />
    </>
  );
}

/** The range that single looks leave open, with the one step that takes it. */
export function SeedOfLooks({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const say = useSay();
  const [low, high] = arm.seed ?? [0, 0];
  const choose = useSend(
    (_: null) =>
      body(
        PUT("/api/calibrations/{calibration_id}/range", {
          params: { path: { calibration_id: calibration.id } },
          body: { version: calibration.version, source: "own guess", low_s: low, high_s: high },
        }),
      ),
    () => say("The next coupons are planned in this range."),
  );
  const looked = arm.coupons.filter((card) => card.look && !card.reading_id);
  const taken = calibration.low_s === low && calibration.high_s === high;
  if (!arm.seed || !looked.length || taken) return null;
  const step = calibration.exposure_step_s;
  return (
    <div className="mb-3" role="note" aria-label="By single looks">
      <p className="mb-2">
        {looked.length} single looks leave{" "}
        <b className="num">
          {exposure(low, step)} to {exposure(high, step)}
          {THIN}s
        </b>{" "}
        open. A look finds the range; features decide.
      </p>
      <Button variant="quiet" disabled={choose.isPending} onClick={() => choose.mutate(null)}>
        Start from this range
      </Button>
      <Trouble error={choose.error} />
    </div>
  );
}
