import { scaleLinear } from "d3-scale";
import { SIDE, asTyped, shareOf } from "../format";
import type { Schemas } from "../api/client";
import { useWidth } from "../useWidth";
import { XAxis, YAxis } from "./Axes";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";
import { zip } from "./scale";
import { inLabUnit, signOfUnit } from "../labForm";

const HEIGHT = 240;
const BOX = { left: 56, right: 16, top: 24, bottom: 40 };
type Props = {
  property: Schemas["SeriesProperty"];
  members: Schemas["SeriesMember"][];
  response: Schemas["BlendResponseResult"] | null;
  most: number;
};

/** A property against the fraction of an additive: specimens, curve, its band, the brief's line, and where all of it is met. */
export function ResponsePlot({ property, members, response, most }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const points = members.flatMap((one) =>
    (one.values[property.key] ?? []).map((value) => ({ fraction: one.fraction, value })),
  );
  const curve = response?.curves.find((one) => one.property === property.key);
  const ys = [...points.map((one) => one.value), property.limit, ...(curve?.value ?? [])];
  const x = scaleLinear([0, Math.max(most, ...points.map((one) => one.fraction))], [BOX.left, width - BOX.right]);
  const y = scaleLinear([Math.min(...ys), Math.max(...ys)], [HEIGHT - BOX.bottom, BOX.top])
    .nice()
    .clamp(true);
  const line = (values: number[]) =>
    zip(curve?.fraction ?? [], values)
      .map(([fraction, value]) => `${x(fraction)},${y(value)}`)
      .join(" ");
  const asked = property.at === "least" ? curve?.low : curve?.high;
  return (
    <figure className="trend-plot response-plot" ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        role="img"
        aria-label={`${property.name} against share, ${points.length} points; ${property.kind} be ${SIDE[property.at]} ${asTyped(property.limit, property.unit)} ${signOfUnit(property.unit)}`}
      >
        {response?.feasible.map(([low, high]) => (
          <rect
            key={low}
            className="feasible"
            x={x(low)}
            width={Math.max(x(high) - x(low), 1)}
            y={BOX.top}
            height={HEIGHT - BOX.bottom - BOX.top}
          />
        ))}
        <YAxis y={y} left={BOX.left} right={width - BOX.right} unit={property.unit} />
        <XAxis x={x} at={HEIGHT - BOX.bottom + 18} shown={(tick) => asTyped(100 * tick, "%")} />
        <text className="soft" x={width - BOX.right} y={HEIGHT - 4} textAnchor="end">
          share, % by volume
        </text>
        <text className="soft" x={BOX.left} y={BOX.top - 10}>
          {signOfUnit(property.unit)}
        </text>
        {curve && <polyline className="curve" points={line(curve.value)} />}
        {curve && asked && <polyline className="path" points={line(asked)} />}
        <g className="line">
          <line x1={BOX.left} x2={width - BOX.right} y1={y(property.limit)} y2={y(property.limit)} />
          <text x={BOX.left + 6} y={y(property.limit) + (property.at === "least" ? 16 : -6)}>
            {property.kind} be {SIDE[property.at]} {asTyped(property.limit, property.unit)}
          </text>
        </g>
        {points.map((one, index) => (
          <circle key={index} className="small" cx={x(one.fraction)} cy={y(one.value)} r={4.5} />
        ))}
        {response?.best_fraction != null && (
          <g className="best">
            <line x1={x(response.best_fraction)} x2={x(response.best_fraction)} y1={BOX.top} y2={HEIGHT - BOX.bottom} />
            <text x={x(response.best_fraction) + 5} y={HEIGHT - BOX.bottom - 6}>
              {shareOf(response.best_fraction)}
            </text>
          </g>
        )}
      </svg>
      <PlotTable
        name={`${property.name} against share`}
        head={["Share, % by volume", `${property.name}, ${signOfUnit(property.unit)}`]}
        rows={points.map((one) => [Number((100 * one.fraction).toFixed(1)), inLabUnit(one.value, property.unit)])}
      />
      <PlotTools figure={ref} name={`${property.name} against share`} />
    </figure>
  );
}
