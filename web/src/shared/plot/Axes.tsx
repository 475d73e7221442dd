import type { ScaleContinuousNumeric } from "d3-scale";

type Scale = ScaleContinuousNumeric<number, number>;
type YProps = { y: Scale; left: number; right: number; count?: number; shown?: (tick: number) => string };

/** Lines across a plot with their numbers at the left. */
export function YAxis({ y, left, right, count = 5, shown = String }: YProps) {
  return y.ticks(count).map((tick) => (
    <g key={tick} className="grid">
      <line x1={left} x2={right} y1={y(tick)} y2={y(tick)} />
      <text className="num" x={left - 8} y={y(tick) + 4} textAnchor="end">
        {shown(tick)}
      </text>
    </g>
  ));
}

/** Numbers under a plot. */
export function XAxis({
  x,
  at,
  count = 6,
  shown = String,
}: {
  x: Scale;
  at: number;
  count?: number;
  shown?: (tick: number) => string;
}) {
  return x.ticks(count).map((tick) => (
    <text key={tick} className="num" x={x(tick)} y={at} textAnchor="middle">
      {shown(tick)}
    </text>
  ));
}
