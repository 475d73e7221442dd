import { scaleLinear } from "d3-scale";
import { useWidth } from "../useWidth";
import { XAxis, YAxis } from "./Axes";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";
import { inLabUnit, signOfUnit } from "../labForm";

export type CurvePoint = { x: number; y: number; name?: string; hollow?: boolean };
type Line = { points: [number, number][]; soft?: boolean; ink?: boolean };
type Props = {
  name: string;
  /** Words of the two axes, behind their units where those may be read in another. */
  across: string;
  acrossUnit?: string;
  up: string;
  upUnit?: string;
  points: CurvePoint[];
  lines?: Line[];
  band?: { x: number; low: number; high: number }[];
  /** A level that is wanted, and where it is met. */
  level?: { at: number; words: string };
  mark?: { at: number; interval: [number, number] | null; words: string };
  range?: { from: number; to: number };
  /** What the vertical numbers look like. */
  shown?: (value: number) => string;
  height?: number;
};

/** Room that a letter of a point's name takes, and a line of them. */
const [LETTER_PX, LINE_PX] = [7.5, 15];
const BOX = { left: 60, right: 20, top: 18, bottom: 42 };

/** One thing against another: what was measured, the curve through it with its uncertainty, and what is asked of it. */
export function CurvePlot({
  name,
  across: acrossWords,
  acrossUnit = "",
  up: upWords,
  upUnit = "",
  points,
  lines = [],
  band,
  level,
  mark,
  range,
  shown,
  height = 300,
}: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const across = `${signOfUnit(acrossUnit)} ${acrossWords}`.trim();
  const up = `${signOfUnit(upUnit)} ${upWords}`.trim();
  const xs = [
    ...points.map((one) => one.x),
    ...lines.flatMap((one) => one.points.map(([x]) => x)),
    ...(mark ? [mark.at] : []),
  ];
  const ys = [
    ...points.map((one) => one.y),
    ...lines.flatMap((one) => one.points.map(([, y]) => y)),
    ...(level ? [level.at] : []),
  ];
  const x = scaleLinear([Math.min(...xs), Math.max(...xs)], [BOX.left, width - BOX.right]).nice();
  const y = scaleLinear(range ? [range.from, range.to] : [Math.min(...ys), Math.max(...ys)], [
    height - BOX.bottom,
    BOX.top,
  ]).clamp(true);
  if (!range) y.nice();
  const path = (line: [number, number][]) => line.map(([a, b]) => `${x(a)},${y(b)}`).join(" ");
  // Words that would run into earlier ones are left to the table.
  const named: { x: number; y: number; wide: number }[] = [];
  const hasRoom = ({ x: at, y: up_at, name: words = "" }: CurvePoint) => {
    const here = { x: x(at), y: y(up_at), wide: LETTER_PX * words.length };
    const clear = named.every(
      (one) => Math.abs(one.y - here.y) > LINE_PX || Math.abs(one.x - here.x) > Math.max(one.wide, here.wide),
    );
    if (clear && words) named.push(here);
    return clear;
  };
  const inside = (value: number) => Math.min(Math.max(x(value), BOX.left), width - BOX.right);
  return (
    <figure className="trend-plot curve-plot" ref={ref}>
      <svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`${name}, ${points.length} points${mark ? `; ${mark.words}` : ""}`}
      >
        <YAxis y={y} left={BOX.left} right={width - BOX.right} unit={upUnit} shown={shown} />
        <XAxis x={x} at={height - BOX.bottom + 18} unit={acrossUnit} count={Math.max(Math.floor(width / 90), 3)} />
        <text className="soft" x={width - BOX.right} y={height - 4} textAnchor="end">
          {across}
        </text>
        <text className="soft" x={BOX.left + 6} y={BOX.top - 4}>
          {up}
        </text>
        {band && band.length > 1 && (
          <path
            className="band"
            d={`M ${band.map((one) => `${x(one.x)} ${y(one.high)}`).join(" L ")} L ${[...band]
              .reverse()
              .map((one) => `${x(one.x)} ${y(one.low)}`)
              .join(" L ")} Z`}
          />
        )}
        {mark?.interval && (
          <rect
            className="between"
            x={inside(mark.interval[0])}
            width={Math.max(inside(mark.interval[1]) - inside(mark.interval[0]), 1)}
            y={BOX.top}
            height={height - BOX.bottom - BOX.top}
          />
        )}
        {level && (
          <g className="line">
            <line x1={BOX.left} x2={width - BOX.right} y1={y(level.at)} y2={y(level.at)} />
            <text x={BOX.left + 6} y={y(level.at) + 16}>
              {level.words}
            </text>
          </g>
        )}
        {lines.map((one, index) => (
          <polyline
            key={index}
            className={`${one.soft ? "path" : "curve"} ${one.ink ? "ink" : ""}`}
            points={path(one.points)}
          />
        ))}
        {mark && (
          <g className="best">
            <line x1={x(mark.at)} x2={x(mark.at)} y1={BOX.top} y2={height - BOX.bottom} />
            <text
              x={x(mark.at) + (x(mark.at) > width * 0.7 ? -6 : 6)}
              y={height - BOX.bottom - 8}
              textAnchor={x(mark.at) > width * 0.7 ? "end" : "start"}
            >
              {mark.words}
            </text>
          </g>
        )}
        {points.map((one, index) => (
          <g key={index}>
            <circle className={one.hollow ? "small hollow" : "small"} cx={x(one.x)} cy={y(one.y)} r={5} />
            {one.name && hasRoom(one) && (
              <text
                className="soft"
                x={x(one.x) + (x(one.x) > width - 80 ? -8 : 8)}
                y={y(one.y) - 7}
                textAnchor={x(one.x) > width - 80 ? "end" : "start"}
              >
                {one.name}
              </text>
            )}
          </g>
        ))}
      </svg>
      <PlotTable
        name={name}
        head={[across, up]}
        rows={points.map((one) => [
          one.name ?? `${inLabUnit(one.x, acrossUnit)} ${across}`,
          shown?.(one.y) ?? inLabUnit(one.y, upUnit),
        ])}
      />
      <PlotTools figure={ref} name={name} />
    </figure>
  );
}
