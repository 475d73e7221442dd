import { useRef } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useGet } from "../api/useGet";
import { decimal, percent, plural, THIN } from "../format";
import { useWidth } from "../useWidth";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";

type Told = Schemas["SuccessOverTime"];
type Month = Told["months"][number];

const HEIGHT = 170;
const BOX = { left: 56, right: 16, top: 12, bottom: 46 };
/** Room that a month's name takes. */
const NAME_PX = 62;

/** How often prints came out whole, month by month, with what changed in words; nothing where nothing was printed. */
export function SuccessOverTime({ material, printer }: { material?: string; printer?: string }) {
  const told = useGet("/api/success-over-time", { params: { query: { material, printer } } }).data;
  if (!told?.months.length) return null;
  const { months, change } = told;
  const prints = months.reduce((sum, one) => sum + one.prints, 0);
  const whole = months.reduce((sum, one) => sum + one.whole, 0);
  const log = new URLSearchParams({ ...(material && { material }), ...(printer && { printer }), parts: "" });
  return (
    <section className="panel" aria-label="Prints over time">
      <h2>Prints over time</h2>
      <p className="mb-2">
        <Link to={`/log?${log.toString()}`}>{plural(prints, "print")}</Link> of parts, {whole} whole.{" "}
        {change && <Changed change={change} />}
      </p>
      {months.length > 1 && <Months months={months} />}
    </section>
  );
}

function Changed({ change }: { change: NonNullable<Told["change"]> }) {
  const { newest, newest_whole, before, before_whole, p, shown } = change;
  const [now, then] = [newest_whole / newest, before_whole / before];
  const words = `Of the newest ${newest} ${percent(now)}, of the ${before} before ${percent(then)}`;
  if (!shown) return <>{words}: no change shown.</>;
  return (
    <b>
      {words}: {now < then ? "worse" : "better"} than chance gives (p{THIN}
      {p < 0.001 ? `<${THIN}0.001` : `=${THIN}${decimal(p, 3)}`}).
    </b>
  );
}

function Months({ months }: { months: Month[] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const figure = useRef<HTMLElement>(null);
  const [first, last] = [numberOf(months[0]), numberOf(months.at(-1))];
  const step = (width - BOX.left - BOX.right) / (last - first + 1);
  const x = (one: Month) => BOX.left + (numberOf(one) - first + 0.5) * step;
  const y = (share: number) => BOX.top + (1 - share) * (HEIGHT - BOX.top - BOX.bottom);
  const every = Math.ceil(NAME_PX / step);
  return (
    <figure className="trend-plot" ref={figure}>
      <div ref={ref}>
        <svg
          width={width}
          height={HEIGHT}
          viewBox={`0 0 ${width} ${HEIGHT}`}
          role="img"
          aria-label={`Whole prints by month, ${plural(months.length, "month")}`}
        >
          {[0, 0.5, 1].map((share) => (
            <g key={share} className="grid">
              <line x1={BOX.left} x2={width - BOX.right} y1={y(share)} y2={y(share)} />
              <text className="num" x={BOX.left - 8} y={y(share) + 4} textAnchor="end">
                {percent(share)}
              </text>
            </g>
          ))}
          {months.map((one) => (
            <g key={one.month} className="batch">
              <line className="interval" x1={x(one)} x2={x(one)} y1={y(one.ci[0])} y2={y(one.ci[1])} />
              <circle className="centre" cx={x(one)} cy={y(one.share)} r={4.5} />
              {step >= 20 && (
                <text className="soft num" x={x(one)} y={HEIGHT - 28} textAnchor="middle">
                  {one.prints}
                </text>
              )}
              {(numberOf(one) - first) % every === 0 && (
                <text className="soft" x={x(one)} y={HEIGHT - 8} textAnchor="middle">
                  {nameOf(one.month)}
                </text>
              )}
            </g>
          ))}
          <text className="soft" x={BOX.left - 8} y={HEIGHT - 28} textAnchor="end">
            prints
          </text>
        </svg>
      </div>
      <PlotTable
        name="Whole prints by month"
        head={["Month", "Prints", "Whole", "Share", "95 % interval"]}
        rows={months.map((one) => [
          nameOf(one.month),
          one.prints,
          one.whole,
          percent(one.share),
          `${percent(one.ci[0])} to ${percent(one.ci[1])}`,
        ])}
      />
      <PlotTools figure={figure} name="Whole prints by month" />
    </figure>
  );
}

/** Months since the year nought. */
const numberOf = (one: Month | undefined) =>
  one ? 12 * Number(one.month.slice(0, 4)) + Number(one.month.slice(5)) : 0;

const NAMES = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const nameOf = (month: string) => `${NAMES[Number(month.slice(5)) - 1]} ${month.slice(2, 4)}`;
