import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { SizesField } from "../../shared/fields/SizesField";
import { duration, exposure, millilitres, plural, signed, THIN, threeDigits, plain } from "../../shared/format";
import { exposureAxis, ticks } from "../../shared/strip/axis";
import type { Calibration } from "./model";
import { Trouble } from "../../shared/Trouble";
import { Notices } from "./Notices";
import { useGet } from "../../shared/api/useGet";
import { domainOf } from "../../shared/plot/scale";

type Result = Schemas["CompareArmsResult"];

/** Arms on one axis, and what changing one setting moved. */
export function ArmsPanel({ calibration }: { calibration: Calibration }) {
  const query = useGet("/api/calibrations/{calibration_id}/arms", {
    params: { path: { calibration_id: calibration.id } },
  });
  if (!query.data) return null;
  const { result, refused, differs, rests } = query.data;
  if (calibration.arms.length < 2)
    return rests && calibration.arms[0]?.window && !calibration.closed_at ? (
      <RestSet calibration={calibration} rests={rests} />
    ) : null;
  return (
    <section className="panel mt-3" aria-label="Compare arms">
      <h2>Compare arms</h2>
      {refused && <p className="text-secondary mb-0">{refused}</p>}
      {result && (
        <>
          <ArmsStrip result={result} />
          {result.least_sufficient_rest_s !== null && (
            <p>
              Shortest rest that works:{" "}
              <b className="num">
                {plain(result.least_sufficient_rest_s)}
                {THIN}s
              </b>
              . No shorter one is shown to be as good as the longest; every second is paid on every layer.
            </p>
          )}
          <table className="table table-sm arms-table">
            <thead>
              <tr>
                <th scope="col">Arm</th>
                <th scope="col">Differs in</th>
                <th scope="col">Nominal size</th>
                <th scope="col">Latitude</th>
                <th scope="col">Supports</th>
                <th scope="col">Per layer</th>
              </tr>
            </thead>
            <tbody>
              {result.shifts.map((shift) => (
                <tr key={shift.name}>
                  <th scope="row">{shift.name}</th>
                  <td>
                    {differs
                      .find((one) => one.arm === shift.name)
                      ?.settings.map(
                        (name) =>
                          calibration.setting_fields.find((one) => one.key === name)?.label.toLowerCase() ?? name,
                      )
                      .join(", ")}
                  </td>
                  <td className={shift.shown ? "num" : "num text-secondary"}>
                    {change(shift.size_true_shift_pct, "%")}
                    {shift.size_true_shift_pct !== null && !shift.shown && ", not shown"}
                    {shift.size_true_shift_ci_pct && (
                      <small className="text-secondary d-block">
                        {shift.size_true_shift_ci_pct.map((end) => signed(end)).join(" to ")}
                      </small>
                    )}
                  </td>
                  <td className="num">{change(shift.latitude_change_pct, "points")}</td>
                  <td className="num">{change(shift.support_end_shift_pct, "%")}</td>
                  <td className="num">{change(shift.seconds_per_layer_change, "s", 1)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <ul className="mb-0">
            {result.shifts.map((shift) => (
              <li key={shift.name}>
                <b>{shift.name}:</b> {shift.message}
              </li>
            ))}
          </ul>
          <Notices notices={result.warnings} />
        </>
      )}
    </section>
  );
}

/** The guided set of arms: the same exposures at several rests. */
function RestSet({ calibration, rests }: { calibration: Calibration; rests: Schemas["RestSet"] }) {
  const say = useSay();
  const [open, setOpen] = useState(false);
  const [values, setValues] = useState<number[] | null>(rests.rests_s);
  const start = useSend(
    (rests_s: number[], headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/rest-arms", {
          params: { path: { calibration_id: calibration.id } },
          body: { arm_id: rests.arm_id, rests_s, exposures_s: rests.exposures_s },
          headers,
        }),
      ),
    (made, asked) => say(`${plural(asked.length, "arm")} started, ${plural(made.coupons.length, "coupon")} planned.`),
  );
  const said = Object.entries(start.error?.fields ?? {}).find(([name]) => name.startsWith("rests_s"))?.[1];
  return (
    <section className="mt-3 no-print" aria-label="Shortest rest that works">
      <Button variant="link" className="p-0" aria-expanded={open} onClick={() => setOpen(!open)}>
        Find the shortest rest that works…
      </Button>
      {open && (
        <form
          className="panel mt-2 d-grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (values) start.mutate(values);
          }}
        >
          <p className="mb-0">{rests.why}</p>
          <SizesField
            label="Rests to try"
            unit="s"
            values={values}
            onChange={setValues}
            error={said}
            hint={`Each printed at ${rests.exposures_s.map((one) => exposure(one, calibration.exposure_step_s)).join(", ")} s`}
          />
          {!said && <Trouble error={start.error} />}
          <div>
            <Button type="submit" disabled={!values || start.isPending}>
              Start {plural(values?.length ?? 0, "arm")} · {duration(rests.duration_s)} · {millilitres(rests.volume_ml)}
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}

const change = (value: number | null, unit: string, digits = 0) =>
  value === null ? "–" : `${signed(value, digits)}${THIN}${unit}`;

const WIDTH = 760;
const LEFT = 190;
const ROW = 34;

function ArmsStrip({ result }: { result: Result }) {
  const ends = result.arms
    .flatMap((arm) => [arm.window?.lower_s, arm.window?.upper_s, arm.size_true_s, ...(arm.size_true_ci_s ?? [])])
    .filter((end): end is number => end != null && Number.isFinite(end));
  if (!ends.length) return null;
  const x = exposureAxis(Math.min(...ends) / 1.1, Math.max(...ends) * 1.1, LEFT, WIDTH - 12);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${result.arms.length * ROW + 34}`}
      className="arms-strip"
      role="img"
      aria-label={result.arms
        .map(
          (arm) =>
            `${arm.name}: ${arm.window ? `window ${threeDigits(arm.window.lower_s)} to ${threeDigits(arm.window.upper_s)} s` : "no window"}`,
        )
        .join("; ")}
    >
      {ticks(x, 60).map((tick) => (
        <g key={tick}>
          <line x1={x(tick)} x2={x(tick)} y1={22} y2={result.arms.length * ROW + 26} className="rule" />
          <text x={x(tick)} y={16} textAnchor="middle" className="num">
            {plain(tick)}
          </text>
        </g>
      ))}
      {result.arms.map((arm, index) => {
        const [first, last] = domainOf(x);
        const y = 26 + index * ROW + ROW / 2;
        return (
          <g key={arm.name}>
            <text x={LEFT - 12} y={y + 5} textAnchor="end">
              {arm.name}
            </text>
            {arm.window ? (
              <rect
                className="lane"
                x={x(arm.window.lower_s)}
                y={y - 9}
                width={Math.max(x(arm.window.upper_s) - x(arm.window.lower_s), 2)}
                height={18}
                rx={3}
              />
            ) : (
              <text x={LEFT + 8} y={y + 5} className="none">
                {arm.conflict_gap_pct !== null
                  ? `no window: ${arm.conflict_gap_pct.toFixed(0)} % apart`
                  : "no window yet"}
              </text>
            )}
            {arm.size_true_s !== null && (
              <>
                {arm.size_true_ci_s && (
                  <line
                    className="uncertainty"
                    x1={x(Math.max(arm.size_true_ci_s[0], first))}
                    x2={x(Math.min(arm.size_true_ci_s[1], last))}
                    y1={y}
                    y2={y}
                  />
                )}
                <path className="true" d={`M${x(arm.size_true_s)} ${y - 8} l7 8 l-7 8 l-7 -8 z`} />
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}
