import { scaleLinear } from "d3-scale";
import { THIN } from "../../shared/format";

const WIDTH = 640;
const HEIGHT = 110;
const LEFT = 52;
const FOOT = 26;

/** Lit area of every layer: what pulls at the film, and where a coupon is thin. */
export function LayerAreas({ areas, layer }: { areas: number[]; layer: number }) {
  const most = Math.max(...areas);
  const x = scaleLinear()
    .domain([0, areas.length])
    .range([LEFT, WIDTH - 4]);
  const y = scaleLinear()
    .domain([0, most])
    .nice(3)
    .range([HEIGHT - FOOT, 6]);
  const top = areas.map((area, index) => `${x(index)},${y(area)} ${x(index + 1)},${y(area)}`).join(" ");
  const millilitres = areas.reduce((sum, area) => sum + area, 0) * (layer / 1e6);
  return (
    <figure className="layer-areas">
      <figcaption>
        Area lit per layer, mm²{" "}
        <span className="text-secondary">
          (together {millilitres.toFixed(2)}
          {THIN}ml)
        </span>
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`Area lit per layer over ${areas.length} layers, up to ${most.toFixed(0)} square millimetres`}
      >
        {y.ticks(3).map((tick) => (
          <g key={tick}>
            <line className="rule" x1={LEFT} x2={WIDTH - 4} y1={y(tick)} y2={y(tick)} />
            <text x={LEFT - 6} y={y(tick) + 5} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        <polygon points={`${x(0)},${y(0)} ${top} ${x(areas.length)},${y(0)}`} />
        {x
          .ticks(6)
          .filter(Number.isInteger)
          .map((tick) => (
            <text key={tick} x={x(tick)} y={HEIGHT - 6} textAnchor="middle">
              {tick}
            </text>
          ))}
      </svg>
    </figure>
  );
}
