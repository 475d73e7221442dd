import { money } from "../../shared/labForm";
import type { Schemas } from "../../shared/api/client";
import { decimal, duration, THIN, quantity, temperature } from "../../shared/format";
import { CurvePlot } from "../../shared/plot/CurvePlot";

type Plan = Schemas["WarmStartPlan"];

/** Steps with their cautions, the temperatures, and what it costs. Times are from now, or clock times once begun. */
export function WarmPlan({ plan, begun }: { plan: Plan; begun?: string }) {
  const zero = plan.steps[0]?.at_s ?? 0;
  const when = (second: number) =>
    begun
      ? new Date(Date.parse(begun) + second * 1000).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })
      : second - zero < 30
        ? "now"
        : `+${duration(second - zero)}`;
  const bath = plan.bath?.resin_curve_c ?? [];
  const bottleAt = plan.steps.find((one) => one.kind === "bottle")?.at_s ?? 0;
  return (
    <>
      {plan.warnings.map((one) => (
        <p key={one.message} className="caution">
          {one.message}
        </p>
      ))}
      {plan.possible && (
        <>
          <ol className="warm-steps" aria-label="Steps">
            {plan.steps.map((one) => (
              <li key={`${one.at_s} ${one.kind}`}>
                <span className="num when">{when(one.at_s)}</span>
                <span>
                  {one.words}
                  {one.caution && <small className="caution-line">{one.caution}</small>}
                </span>
              </li>
            ))}
          </ol>
          <div className="position-relative pt-4">
            <CurvePlot
              name="Temperatures of the warm start"
              across="min from the first step"
              up=""
              upUnit="°C"
              points={[]}
              lines={[
                ...plan.chambers.map((one) => ({
                  points: one.curve_c.map(([second, temp]) => [(second - zero) / 60, temp] as [number, number]),
                })),
                ...(bath.length
                  ? [
                      {
                        soft: true,
                        points: bath
                          .filter(([second]) => second <= (plan.bath?.time_to_target_s ?? 0))
                          .map(([second, temp]) => [(second + bottleAt - zero) / 60, temp] as [number, number]),
                      },
                    ]
                  : []),
              ]}
              height={250}
            />
            <p className="small text-secondary">
              Solid: chamber{plan.chambers.length > 1 ? "s" : ""}. {bath.length > 0 && "Dashed: bottle. "}Light and
              reaction warm it further; they are left out.
            </p>
          </div>
          <dl className="facts">
            <dt>Energy</dt>
            <dd className="num">
              {decimal(plan.energy_kwh, 3)}
              {THIN}kWh{plan.cost !== null && `, ${plan.cost < 0.01 ? `less than ${money(0.01)}` : money(plan.cost)}`}
            </dd>
            {plan.chambers.map((one) => (
              <FactsOf key={one.printer} chamber={one} named={plan.chambers.length > 1} />
            ))}
          </dl>
        </>
      )}
    </>
  );
}

function FactsOf({ chamber, named }: { chamber: Plan["chambers"][number]; named: boolean }) {
  const of = named ? `${chamber.printer}: ` : "";
  return (
    <>
      <dt>{of}coldest through the base layers</dt>
      <dd className={chamber.stays_above_floor ? "passed" : "found"}>
        {chamber.stays_above_floor ? "■" : "▲"} {temperature(chamber.lowest_c, 1)}
      </dd>
      <dt>{of}one opening of the lid costs</dt>
      <dd className="num">
        {quantity(chamber.lid_loss_c, "°C", 0, true)}, {decimal(chamber.lid_minutes, 0)}
        {THIN}min
      </dd>
      <dt>{of}stays above the floor, heater off</dt>
      <dd className="num">
        {chamber.above_floor_after_s === null ? "for good" : duration(chamber.above_floor_after_s)}
      </dd>
    </>
  );
}
