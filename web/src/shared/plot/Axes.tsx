import { scaleLinear, type ScaleContinuousNumeric } from "d3-scale";
import { trueMinus } from "../format";
import { asKept, inLabUnit, inMark, signOfUnit } from "../labForm";
import { domainOf } from "./scale";

type Scale = ScaleContinuousNumeric<number, number>;
type Numbers = {
  count?: number;
  /** The unit the numbers are kept in: round numbers stand at the unit the lab reads. */
  unit?: string;
  shown?: (tick: number) => string;
};
type YProps = { y: Scale; left: number; right: number } & Numbers;

/** Where an axis has its numbers, and what they say. */
export function ticksOf(scale: Scale, { count, unit = "", shown = tickText }: Numbers): { at: number; text: string }[] {
  if (signOfUnit(unit) === unit) return scale.ticks(count).map((tick) => ({ at: tick, text: shown(tick) }));
  const [from, to] = domainOf(scale);
  const read = scaleLinear([inLabUnit(from, unit), inLabUnit(to, unit)], [from, to]);
  return read.ticks(count).map((tick) => ({ at: asKept(tick, unit), text: tickText(tick) }));
}

const tickText = (tick: number) => inMark(trueMinus(String(tick)));

/** Lines across a plot with their numbers at the left. */
export function YAxis({ y, left, right, count = 5, ...numbers }: YProps) {
  return ticksOf(y, { count, ...numbers }).map(({ at, text }) => (
    <g key={at} className="grid">
      <line x1={left} x2={right} y1={y(at)} y2={y(at)} />
      <text className="num" x={left - 8} y={y(at) + 4} textAnchor="end">
        {text}
      </text>
    </g>
  ));
}

/** Numbers under a plot. */
export function XAxis({ x, at: height, count = 6, ...numbers }: { x: Scale; at: number } & Numbers) {
  return ticksOf(x, { count, ...numbers }).map(({ at, text }) => (
    <text key={at} className="num" x={x(at)} y={height} textAnchor="middle">
      {text}
    </text>
  ));
}
