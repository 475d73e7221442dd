import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { decimal, screenHours } from "../format";
import { useWidth } from "../useWidth";
import { XAxis, YAxis } from "./Axes";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";

const HEIGHT = 240;
const BOX = { left: 56, right: 16, top: 24, bottom: 44 };

/** Check coupons in percent of dose, over screen hours where they are known: limits, window, drift. */
export function ControlPlot({ view }: { view: Schemas["ChartView"] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const read = view.checks.flatMap(({ off_pct, ...one }) => (off_pct === null ? [] : [{ ...one, off_pct }]));
  const newest = read.at(-1);
  if (!newest) return null;
  const byHours = read.every((one) => one.screen_hours !== null) && Boolean(view.chart?.drift);
  const shown = read.map((one, index) => ({ ...one, at: byHours ? (one.screen_hours ?? 0) : index + 1 }));
  const at = shown.map((one) => one.at);
  const { chart } = view;
  const alarms = new Set(chart?.alarms.map((one) => one.index));
  const ends = [...read.map((one) => one.off_pct), chart?.lower, chart?.upper].filter(
    (value): value is number => value != null,
  );
  // The window is drawn as far as it fits: it must not squeeze the points into a line.
  const reach = Math.max(...ends.map(Math.abs), 5) * 1.2;
  const leaves = chart?.drift?.leaves_at_hours ?? null;
  const last = Math.max(...at);
  const x = scaleLinear(
    [
      Math.min(...at),
      byHours && leaves !== null ? Math.max(last, Math.min(leaves, last * 1.6)) : last + (at.length > 1 ? 0 : 1),
    ],
    [BOX.left, width - BOX.right],
  );
  const y = scaleLinear([-reach, reach], [HEIGHT - BOX.bottom, BOX.top]);
  const line = (value: number | null | undefined, name: string, className: string) =>
    value != null && Math.abs(value) <= reach ? (
      <g className={className}>
        <line x1={BOX.left} x2={width - BOX.right} y1={y(value)} y2={y(value)} />
        <text
          x={name === "limit" ? BOX.left + 6 : width - BOX.right}
          y={y(value) - 4}
          textAnchor={name === "limit" ? "start" : "end"}
        >
          {name}
        </text>
      </g>
    ) : null;
  const drift = chart?.drift;
  const middle = (Math.min(...at) + last) / 2;
  const driftAt = (hours: number) => (chart?.centre ?? 0) + ((hours - middle) * (drift?.per_100_hours ?? 0)) / 100;
  return (
    <figure className="control-plot" ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        role="img"
        aria-label={`Control chart of ${view.printer}: ${read.length} check coupons, the last ${decimal(newest.off_pct, 0)} percent off`}
      >
        <YAxis y={y} left={BOX.left} right={width - BOX.right} shown={(value) => decimal(value, 0)} />
        <text x={BOX.left - 44} y={BOX.top - 12} className="soft">
          % dose
        </text>
        <XAxis x={x} at={HEIGHT - 24} count={Math.max(2, Math.floor(width / 90))} />
        <text x={width - BOX.right} y={HEIGHT - 4} textAnchor="end" className="soft">
          {byHours ? "screen hours" : "check coupons in order"}
        </text>
        {line(view.lower_pct, "window", "window")}
        {line(view.upper_pct, "window", "window")}
        {line(chart?.lower, "limit", "limit")}
        {line(chart?.upper, "limit", "limit")}
        {drift?.shown && byHours && (
          <line
            className="drift"
            x1={x(Math.min(...at))}
            y1={y(driftAt(Math.min(...at)))}
            x2={x(last)}
            y2={y(driftAt(last))}
          />
        )}
        <polyline className="path" points={shown.map((one) => `${x(one.at)},${y(one.off_pct)}`).join(" ")} />
        {shown.map((one, index) => (
          <circle
            key={one.coupon}
            className={one.passed ? "" : "failed"}
            cx={x(one.at)}
            cy={y(one.off_pct)}
            r={alarms.has(index) ? 6 : 4}
          >
            <title>
              {one.coupon}, {one.set_code}: {decimal(one.off_pct, 1)} % off
            </title>
          </circle>
        ))}
      </svg>
      <PlotTable
        name="Check coupons"
        head={["Coupon", "Screen hours", "Off"]}
        rows={read.map((one) => [
          one.coupon,
          one.screen_hours === null ? "hours not noted" : `${screenHours(one.screen_hours)} h`,
          `${decimal(one.off_pct, 1)} %`,
        ])}
      />
      <PlotTools figure={ref} name={`Control chart of ${view.printer}`} />
    </figure>
  );
}
