import { scaleLinear } from "d3-scale";
import type { ReactNode } from "react";
import { exposureAxis, ticks } from "../strip/axis";
import { useWidth } from "../useWidth";
import { YAxis } from "./Axes";
import { PlotTools } from "./PlotTools";
import "./plot.scss";
import { domainOf } from "./scale";
import { inMark, signOfUnit } from "../labForm";

const HEIGHT = 360;
const LEFT = 64;
const RIGHT = 20;
const TOP = 36;
const FOOT = 48;

export type PlotPoint = { x: number; y: number; name: string; hollow?: boolean };
type Props = {
  label: string;
  xLabel: string;
  yLabel: string;
  yUnit?: string;
  points: PlotPoint[];
  line: { x: number; y: number; low?: number; high?: number }[];
  marks?: { x: number; y: number; name: string }[];
  table: ReactNode;
};

/** Evidence on a logarithmic time axis: what was measured, the line through it, and its 95 % band. */
export function LogPlot({ label, xLabel, yLabel, yUnit = "", points, line, marks = [], table }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(760);
  const xs = [...points.map((p) => p.x), ...line.map((p) => p.x), ...marks.map((m) => m.x)];
  const ys = [...points.map((p) => p.y), ...line.flatMap((p) => [p.y, p.high ?? p.y]), ...marks.map((m) => m.y)];
  if (!xs.length) return null;
  const x = exposureAxis(Math.min(...xs) / 1.15, Math.max(...xs) * 1.15, LEFT, width - RIGHT);
  const y = scaleLinear()
    .domain([Math.min(0, ...ys), Math.max(...ys) * 1.08])
    .nice(5)
    .range([HEIGHT - FOOT, TOP]);
  const [foot] = domainOf(y);
  const inside = line.filter((p) => p.y >= foot);
  const band = inside.flatMap(({ x, low, high }) =>
    low === undefined || high === undefined ? [] : [{ x, low, high }],
  );
  const clamp = (value: number) => y(Math.max(value, foot));
  return (
    <figure className="log-plot" ref={ref}>
      <svg width={width} height={HEIGHT} viewBox={`0 0 ${width} ${HEIGHT}`} role="img" aria-label={label}>
        <YAxis y={y} left={LEFT} right={width - RIGHT} unit={yUnit} />
        {ticks(x, 64).map((tick) => (
          <g key={tick}>
            <line className="tick" x1={x(tick)} x2={x(tick)} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT + 6} />
            <text x={x(tick)} y={HEIGHT - FOOT + 22} textAnchor="middle" className="num">
              {inMark(String(tick))}
            </text>
          </g>
        ))}
        <text x={(LEFT + width - RIGHT) / 2} y={HEIGHT - 6} textAnchor="middle">
          {xLabel}
        </text>
        <text x={LEFT} y={TOP - 16} className="axis-name">
          {[yLabel, signOfUnit(yUnit)].filter(Boolean).join(", ")}
        </text>
        {band.length > 1 && (
          <polygon
            className="band"
            points={[
              ...band.map((p) => `${x(p.x)},${clamp(p.high)}`),
              ...band.toReversed().map((p) => `${x(p.x)},${clamp(p.low)}`),
            ].join(" ")}
          />
        )}
        {inside.length > 1 && <polyline className="line" points={inside.map((p) => `${x(p.x)},${y(p.y)}`).join(" ")} />}
        {marks.map((mark) => (
          <g key={mark.name} className="mark">
            <line x1={x(mark.x)} x2={x(mark.x)} y1={y(mark.y)} y2={HEIGHT - FOOT} />
            <circle cx={x(mark.x)} cy={y(mark.y)} r={4} />
            <text x={x(mark.x) + 6} y={HEIGHT - FOOT - 8}>
              {mark.name}
            </text>
          </g>
        ))}
        {points.map((point) => (
          <circle
            key={point.name}
            className={point.hollow ? "point hollow" : "point"}
            cx={x(point.x)}
            cy={y(point.y)}
            r={6}
          >
            <title>{point.name}</title>
          </circle>
        ))}
      </svg>
      <div className="visually-hidden">{table}</div>
      <PlotTools figure={ref} name={label} />
    </figure>
  );
}
