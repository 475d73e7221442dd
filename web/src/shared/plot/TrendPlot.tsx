import { scaleLinear } from "d3-scale";
import { useWidth } from "../useWidth";
import { XAxis, YAxis } from "./Axes";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";
import { domainOf } from "./scale";
import { inLabUnit, signOfUnit } from "../labForm";

export type TrendPoint = { x: number; values: number[]; centre: number | null; interval: [number, number] | null };
type Props = {
  name: string;
  unit: string;
  against: string;
  againstUnit: string;
  points: TrendPoint[];
  curve?: [number, number][];
};

const HEIGHT = 260;
const BOX = { left: 56, right: 20, top: 24, bottom: 40 };

/** A property against something that was varied on purpose: dots, means with intervals, and the curve where there is one. */
export function TrendPlot({ name, unit, against, againstUnit, points, curve }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const xs = points.map((one) => one.x);
  const ys = points.flatMap((one) => [
    ...one.values,
    ...(one.interval ?? []),
    ...(one.centre === null ? [] : [one.centre]),
  ]);
  ys.push(...(curve ?? []).slice(0, 1).map(([, value]) => value));
  const x = scaleLinear([Math.min(...xs, 0), Math.max(...xs) * 1.04], [BOX.left, width - BOX.right]);
  const y = scaleLinear([Math.min(...ys), Math.max(...ys)], [HEIGHT - BOX.bottom, BOX.top]).nice();
  return (
    <figure className="trend-plot" ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        role="img"
        aria-label={`${name} against ${against}, ${points.length} steps`}
      >
        <YAxis y={y} left={BOX.left} right={width - BOX.right} unit={unit} />
        <XAxis x={x} at={HEIGHT - BOX.bottom + 18} />
        <text className="soft" x={width - BOX.right} y={HEIGHT - 4} textAnchor="end">
          {against}, {againstUnit}
        </text>
        <text className="soft" x={BOX.left} y={BOX.top - 10}>
          {signOfUnit(unit)}
        </text>
        {curve?.length ? (
          <polyline
            className="curve"
            points={curve.map(([at, value]) => `${x(at)},${y(Math.max(value, domainOf(y)[0]))}`).join(" ")}
          />
        ) : (
          <polyline
            className="path"
            points={points.flatMap((one) => (one.centre === null ? [] : [`${x(one.x)},${y(one.centre)}`])).join(" ")}
          />
        )}
        {points.map((one) => (
          <g key={one.x} className="batch">
            {one.interval && (
              <line className="interval" x1={x(one.x)} x2={x(one.x)} y1={y(one.interval[0])} y2={y(one.interval[1])} />
            )}
            {one.values.map((value, index) => (
              <circle key={index} className="small" cx={x(one.x) + ((index % 5) - 2) * 4} cy={y(value)} r={4} />
            ))}
            {one.centre !== null && (
              <path className="centre" d={`M ${x(one.x)} ${y(one.centre) - 8} l 5 8 l -5 8 l -5 -8 z`} />
            )}
          </g>
        ))}
      </svg>
      <PlotTable
        name={`${name} against ${against}`}
        head={[`${against}, ${againstUnit}`, `${name}, ${signOfUnit(unit)}`, "each"]}
        rows={points.map((one) => [
          one.x,
          one.centre === null ? null : inLabUnit(one.centre, unit),
          one.values.map((value) => inLabUnit(value, unit)).join(", "),
        ])}
      />
      <PlotTools figure={ref} name={`${name} against ${against}`} />
    </figure>
  );
}
