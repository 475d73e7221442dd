import Button from "react-bootstrap/Button";
import { useSay } from "../../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { decimal, signed, THIN, quantity, size, millimetres, plain } from "../../../shared/format";
import { Loaded } from "../../../shared/Loading";
import { Trouble } from "../../../shared/Trouble";
import type { Arm, Calibration } from "../model";
import { Notices } from "../Notices";
import { TryForm } from "./TryForm";
import { useGet } from "../../../shared/api/useGet";

type View = Schemas["FirstLayerView"];

const ACTIONS: Record<View["advice"]["action"], string> = {
  try: "First try",
  check: "Check before more light",
  raise: "More base exposure",
  scuff: "Scuff the plate",
  lower: "Less base exposure",
  done: "The first layer is found",
};

/** First layer: base exposure by the grip of one square. Base and normal exposure are two separate calibrations. */
export function FirstLayerStage({ calibration }: { calibration: Calibration }) {
  const query = useGet("/api/calibrations/{calibration_id}/first-layer", {
    params: { path: { calibration_id: calibration.id } },
  });
  return (
    <Loaded query={query}>
      {(view) => (
        <div className="calibration">
          <div className="strip-place">
            <section className="panel" aria-label="Grip">
              {view.tries.length ? <GripLadder view={view} /> : <Empty grips={view.grips} />}
            </section>
          </div>
          <aside className="panel next-place" aria-label="First layer">
            <h2>{ACTIONS[view.advice.action]}</h2>
            {view.advice.base_exposure_s !== null && (
              <p className="big num">
                {plain(view.advice.base_exposure_s)} <small>s</small>
              </p>
            )}
            <p>{view.advice.message}</p>
            <dl className="result">
              {view.advice.multiple !== null && (
                <>
                  <dt>Ratio to the normal exposure</dt>
                  <dd className="num">
                    {decimal(view.advice.multiple, 1)}×{" "}
                    <small className="text-secondary">
                      of {plain(view.normal_exposure_s)}
                      {THIN}s, {view.normal_from}
                    </small>
                  </dd>
                </>
              )}
              {view.advice.z_offset_um !== null && (
                <>
                  <dt>Z offset</dt>
                  <dd className="num">
                    {signed(view.advice.z_offset_um)}
                    {THIN}µm
                  </dd>
                </>
              )}
              {view.advice.flare_um !== null && (
                <>
                  <dt>Foot flare</dt>
                  <dd className="num">
                    {signed(view.advice.flare_um)}
                    {THIN}µm
                  </dd>
                </>
              )}
              <dt>Base and transition layers</dt>
              <dd className="num">
                {view.base_layers} + {view.transition_layers}
              </dd>
            </dl>
            <Notices notices={view.advice.warnings} />
            {view.advice.action === "done" && view.advice.base_exposure_s !== null && !calibration.closed_at && (
              <TakeOver calibration={calibration} seconds={view.advice.base_exposure_s} />
            )}
            {!calibration.closed_at && (
              <TryForm key={`${view.tries.length} ${plain(view.advice.base_exposure_s)}`} view={view} />
            )}
          </aside>
          <div className="tray-place">
            <ul className="squares" aria-label="Tries">
              {view.tries.map((one) => (
                <li key={one.id}>
                  <TryCard one={one} view={view} closed={Boolean(calibration.closed_at)} />
                </li>
              ))}
            </ul>
          </div>
        </div>
      )}
    </Loaded>
  );
}

/** The base exposure found goes into arms that nothing is printed of yet; printed ones keep theirs as evidence. */
function TakeOver({ calibration, seconds }: { calibration: Calibration; seconds: number }) {
  const say = useSay();
  const take = useSend(
    (arm: Arm) =>
      body(
        PUT("/api/arms/{arm_id}/settings", {
          params: { path: { arm_id: arm.id } },
          body: { name: arm.name, version: arm.version, settings: { ...arm.settings, base_exposure_s: seconds } },
        }),
      ),
    (_, arm) =>
      say(`“${arm.name}” prints its base layers at ${seconds} s.`, () =>
        take.mutate({ ...arm, version: arm.version + 1 }),
      ),
  );
  return (
    <div className="mb-3">
      {calibration.arms.map((arm) => {
        if (arm.settings.base_exposure_s === seconds)
          return (
            <p key={arm.id} className="text-secondary mb-1">
              “{arm.name}” uses it.
            </p>
          );
        if (arm.coupons.some((card) => card.status !== "planned"))
          return (
            <p key={arm.id} className="text-secondary mb-1">
              “{arm.name}” is printed with {plain(arm.settings.base_exposure_s)}
              {THIN}s; its coupons show the normal exposure all the same. Another arm can take {seconds}
              {THIN}s.
            </p>
          );
        return (
          <Button key={arm.id} className="w-100 mb-1" disabled={take.isPending} onClick={() => take.mutate(arm)}>
            Use {seconds}
            {THIN}s in “{arm.name}”
          </Button>
        );
      })}
      <Trouble error={take.error} />
    </div>
  );
}

function Empty({ grips }: { grips: string[] }) {
  return (
    <div className="stage-empty">
      <h2>Does the first layer hold, and come off again?</h2>
      <p>One base-layer square on the clean, levelled plate, rated by how it grips:</p>
      <ol start={0}>
        {grips.map((grip, rating) => (
          <li key={grip}>
            {grip}
            {rating === 3 && " (wanted)"}
          </li>
        ))}
      </ol>
    </div>
  );
}

const WIDTH = 760;
const ROW = 46;
const LEFT = 240;

/** Tries by base exposure across and grip up: the wanted rating is a row. */
function GripLadder({ view }: { view: View }) {
  const low = Math.min(...view.tries.map((one) => one.base_exposure_s));
  const high = Math.max(...view.tries.map((one) => one.base_exposure_s));
  const span = Math.max(high - low, low * 0.2);
  const x = (seconds: number) => LEFT + 40 + ((seconds - low) / span) * (WIDTH - LEFT - 100);
  const y = (rating: number) => 24 + (4 - rating) * ROW;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${5 * ROW + 40}`}
      className="grip-ladder"
      role="img"
      aria-label={`Grip of ${view.tries.length} tries: ${view.tries.map((one) => `${plain(one.base_exposure_s)} s ${view.grips[one.rating]}`).join("; ")}`}
    >
      <rect className="wanted" x={LEFT} y={y(3) - ROW / 2} width={WIDTH - LEFT} height={ROW} />
      {view.grips.map((grip, rating) => (
        <g key={grip}>
          <text x={LEFT - 12} y={y(rating) + 5} textAnchor="end">
            {rating} {grip}
          </text>
          <line x1={LEFT} x2={WIDTH} y1={y(rating) + ROW / 2} y2={y(rating) + ROW / 2} />
        </g>
      ))}
      {view.tries.map((one, index) => (
        <g key={one.id}>
          <circle cx={x(one.base_exposure_s)} cy={y(one.rating)} r={9} className={one.rating === 3 ? "good" : ""} />
          <text x={x(one.base_exposure_s)} y={y(one.rating) + 5} textAnchor="middle" className="order">
            {index + 1}
          </text>
        </g>
      ))}
      {[...new Set(view.tries.map((one) => one.base_exposure_s))].map((seconds) => (
        <text key={seconds} x={x(seconds)} y={5 * ROW + 24} textAnchor="middle" className="num">
          {seconds} s
        </text>
      ))}
    </svg>
  );
}

function TryCard({ one, view, closed }: { one: Schemas["BaseTry"]; view: View; closed: boolean }) {
  const say = useSay();
  const path = { params: { path: { try_id: one.id } } };
  const back = useSend((_: null) => body(POST("/api/base-tries/{try_id}/restore", path)));
  const withdraw = useSend(
    (_: null) =>
      body(POST("/api/base-tries/{try_id}/withdraw", { ...path, body: { reason: "withdrawn on the page" } })),
    () => say(`${one.code} is withdrawn.`, () => back.mutate(null)),
  );
  return (
    <article className="tray-card" aria-label={`Try ${one.code}`}>
      <div className="head">
        <span className="exposure num">
          {plain(one.base_exposure_s)}
          {THIN}s
        </span>
        <span className="num">{one.code}</span>
      </div>
      <span>
        <b>{one.rating}</b> {view.grips[one.rating]}
      </span>
      <span className="small text-secondary">
        {[
          one.thickness_mm !== null && `${quantity(one.thickness_mm, "mm", 3)} thick`,
          one.foot_mm !== null && `foot ${size(one.foot_mm)} over ${millimetres(one.above_mm ?? 0)}`,
          one.checked.length > 0 && `checked: ${one.checked.join(", ")}`,
          one.note,
          one.initials,
        ]
          .filter(Boolean)
          .join(" · ")}
      </span>
      {!closed && (
        <div className="acts no-print">
          <Button size="sm" variant="quiet" onClick={() => withdraw.mutate(null)} aria-label={`Withdraw ${one.code}`}>
            Withdraw
          </Button>
        </div>
      )}
      <Trouble error={withdraw.error} />
    </article>
  );
}
