import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { SIDE, plural, THIN, asTyped, quantity, inUnit } from "../format";
import { useWidth } from "../useWidth";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";
import { signOfUnit } from "../labForm";
import { ticksOf } from "./Axes";

type Result = Schemas["PropertyResult"];
type Batch = Schemas["BatchResult"];

const ROW = 64;
const BOX = { top: 8, bottom: 46 };

/** Every specimen as a dot, mean and interval, the bound that 90 % of parts keep, and the line that is asked for. */
export function DotPlot({ result }: { result: Result }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const batches = result.batches.filter((one) => one.n > 0);
  if (!batches.length) return null;
  const narrow = width < 560;
  const left = narrow ? 12 : Math.min(220, width * 0.3);
  const values = batches.flatMap((one) => [
    ...one.dots.map((dot) => dot.value),
    ...(one.centre_ci ?? []),
    one.bound ?? one.centre ?? NaN,
  ]);
  if (result.line) values.push(result.line.limit);
  const known = values.filter(Number.isFinite);
  const low = Math.min(...known);
  const high = Math.max(...known);
  const air = (high - low || Math.abs(high) || 1) * 0.06;
  // An interval may reach below nothing; what is measured cannot.
  const floor = batches.every((one) => one.dots.every((dot) => dot.value >= 0)) ? 0 : -Infinity;
  const x = scaleLinear([Math.max(low - air, floor), high + air], [left, width - 24])
    .nice()
    .clamp(true);
  // The limit's words stand below the axis beside its line; the axis is named on the other side.
  const limitAtRight = result.line !== null && x(result.line.limit) > width * 0.6;
  const height = BOX.top + batches.length * ROW + BOX.bottom;
  const places = Math.max(...batches.map((one) => one.decimals));
  return (
    <figure className="dot-plot" ref={ref} aria-label={result.name}>
      <svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`${result.name}: ${batches.map((one) => `${one.name}, ${one.words}`).join("; ")}`}
      >
        {ticksOf(x, { count: narrow ? 4 : 7, unit: result.unit }).map(({ at, text }) => (
          <g key={at} className="grid">
            <line x1={x(at)} x2={x(at)} y1={BOX.top} y2={height - BOX.bottom} />
            <text className="num" x={x(at)} y={height - BOX.bottom + 18} textAnchor="middle">
              {text}
            </text>
          </g>
        ))}
        {!(narrow && result.line) && (
          <text
            className="soft"
            x={limitAtRight ? left : width - 24}
            y={height - 8}
            textAnchor={limitAtRight ? "start" : "end"}
          >
            {result.name}, {signOfUnit(result.unit)}
          </text>
        )}
        {result.line && (
          <g className="line">
            <line x1={x(result.line.limit)} x2={x(result.line.limit)} y1={BOX.top} y2={height - BOX.bottom + 4} />
            <text x={x(result.line.limit)} y={height - 8} textAnchor={limitAtRight ? "end" : "start"}>
              {result.line.kind} be {SIDE[result.line.at]} {asTyped(result.line.limit, result.unit)}
            </text>
          </g>
        )}
        {batches.map((one, row) => (
          <BatchRow
            key={one.number}
            batch={one}
            y={BOX.top + row * ROW + ROW / 2}
            x={x}
            left={left}
            narrow={narrow}
            better={result.better}
            unit={result.unit}
            asked={result.line?.at ?? null}
          />
        ))}
      </svg>
      <PlotTable
        name={result.name}
        rows={batches.flatMap((one) =>
          one.dots.map((dot) => [
            dot.code,
            one.name,
            quantity(dot.value, result.unit, places),
            dot.unbroken ? "did not break" : "",
          ]),
        )}
      />
      <PlotTools figure={ref} name={result.name} />
    </figure>
  );
}

type RowProps = {
  batch: Batch;
  y: number;
  x: (value: number) => number;
  left: number;
  narrow: boolean;
  better: "higher" | "lower";
  unit: string;
  asked: "least" | "most" | null;
};

function BatchRow({ batch, y, x, left, narrow, better, unit, asked }: RowProps) {
  const side = (asked ?? (better === "higher" ? "least" : "most")) === "least" ? 1 : -1;
  return (
    <g className={batch.is_reference ? "batch reference" : "batch"}>
      <text className="name" x={narrow ? left : 0} y={narrow ? y - 20 : y - 2}>
        {batch.name}
      </text>
      {!narrow && (
        <text className="soft" x={0} y={y + 16}>
          {plural(batch.n, batch.staircase ? "drop" : "specimen")}
          {batch.prints !== null && `, ${plural(batch.prints, "print")}`}
          {batch.is_reference && ", reference"}
        </text>
      )}
      {batch.centre_ci && (
        <line className="interval" x1={x(batch.centre_ci[0])} x2={x(batch.centre_ci[1])} y1={y} y2={y} />
      )}
      {batch.bound !== null && (
        <path
          className="bound"
          d={`M ${x(batch.bound) + side * 7} ${y - 15} H ${x(batch.bound)} V ${y + 15} H ${x(batch.bound) + side * 7}`}
        >
          <title>
            9 in 10 parts {side > 0 ? "reach" : "stay under"} {inUnit(batch.bound, unit, batch.decimals)}
          </title>
        </path>
      )}
      {batch.dots.map((dot, index) => (
        <Dot
          key={dot.code}
          dot={dot}
          cx={x(dot.value)}
          cy={y + jitter(index)}
          shown={quantity(dot.value, unit, batch.decimals + 1)}
          stairs={batch.staircase !== null}
        />
      ))}
      {batch.centre !== null && (
        <path className="centre" d={`M ${x(batch.centre)} ${y - 10} l 6 10 l -6 10 l -6 -10 z`}>
          <title>
            {batch.staircase ? "Median" : "Mean"} {inUnit(batch.centre, unit, batch.decimals)}
          </title>
        </path>
      )}
    </g>
  );
}

/** Dots of one value must not hide each other; the same place each time it is drawn. */
const STEPS_ASIDE = [0, -7, 7, -13, 13, -4, 4, -10, 10];
const jitter = (index: number) => STEPS_ASIDE[index % STEPS_ASIDE.length] ?? 0;

function Dot({
  dot,
  cx,
  cy,
  shown,
  stairs,
}: {
  dot: Schemas["Dot"];
  cx: number;
  cy: number;
  shown: string;
  stairs: boolean;
}) {
  const said = dot.unbroken ? (stairs ? "survived" : "did not break") : stairs ? "broke" : "";
  return (
    <g className={`dot ${dot.unbroken ? "unbroken" : ""} ${dot.outlier || dot.flagged ? "flagged" : ""}`}>
      <circle cx={cx} cy={cy} r={5} />
      {dot.unbroken && !stairs && <path d={`M ${cx + 6} ${cy} h 9 m -4 -4 l 4 4 l -4 4`} />}
      {(dot.outlier || dot.flagged) && (
        <text x={cx} y={cy - 8} textAnchor="middle">
          ▲
        </text>
      )}
      <title>
        {dot.code}: {shown}
        {THIN}
        {said}
        {dot.outlier && " stands apart"}
        {dot.notices.map((one) => ` ${one}`)}
      </title>
    </g>
  );
}
