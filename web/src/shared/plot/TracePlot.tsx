import { scaleLinear, scaleTime } from "d3-scale";
import type { Schemas } from "../api/client";
import { moment, temperatures, inUnit, temperature, clockTime } from "../format";
import { useWidth } from "../useWidth";
import { YAxis } from "./Axes";
import { PlotTable } from "./PlotTable";
import { PlotTools } from "./PlotTools";
import "./plot.scss";
import { signOfUnit, writtenDay } from "../labForm";

type Trace = Schemas["TraceView"];
const HEIGHT = 380;
const LEAST_APART = 50;
const BOX = { left: 48, right: 16, top: 18, bottom: 66 };
const MARK_Y = HEIGHT - 46;

/** The hour, or the day where a day begins, or the month where a year's worth is shown. */
function clock(at: Date): string {
  return at.getHours() || at.getMinutes() ? clockTime(at.toISOString()) : writtenDay(at, false);
}

const MOST_STRETCHES = 48;

/** An unbroken stretch of the log in a line. */
function stretch(run: Trace["runs"][number]): [string, string, string] {
  const seconds = run.map((one) => one[0]);
  const at = (second: number) => moment(new Date(second * 1000).toISOString());
  return [
    `${at(Math.min(...seconds))} to ${at(Math.max(...seconds))}`,
    inUnit(Math.min(...run.map((one) => one[1])), "°C", 1),
    inUnit(Math.max(...run.map((one) => one[3])), "°C", 1),
  ];
}

/** A temperature over time with its band, what ran meanwhile, and gaps left as gaps. */
export function TracePlot({
  trace,
  picked,
  onPick,
}: {
  trace: Trace;
  picked?: [number, number] | null;
  onPick?: (from: number, to: number) => void;
}) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const steps = trace.runs.flat();
  const lows = [trace.low_c, ...steps.map((one) => one[1])];
  const highs = [trace.high_c, ...steps.map((one) => one[3])];
  const x = scaleTime([trace.from_s * 1000, trace.to_s * 1000], [BOX.left, width - BOX.right]);
  const y = scaleLinear([Math.min(...lows), Math.max(...highs)], [HEIGHT - BOX.bottom, BOX.top]).nice();
  const at = (second: number) => x(second * 1000);
  // Steps of some days begin anew with each month: the last of one may stand beside the first of the next.
  const ticks = x.ticks(Math.max(Math.floor(width / 110), 2)).filter((tick, at, every) => {
    const next = every[at + 1];
    return !next || x(next) - x(tick) > LEAST_APART;
  });
  return (
    <figure className="trend-plot trace-plot" ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        role="img"
        aria-label={`Temperature of ${trace.probe.name}; band ${temperatures(trace.low_c, trace.high_c)}; ${trace.marks.length} prints`}
      >
        <rect
          className="allowed"
          x={BOX.left}
          width={Math.max(width - BOX.left - BOX.right, 1)}
          y={y(trace.high_c)}
          height={Math.max(y(trace.low_c) - y(trace.high_c), 1)}
        />
        <YAxis y={y} left={BOX.left} right={width - BOX.right} count={6} unit="°C" />
        <text className="soft" x={BOX.left + 6} y={BOX.top - 4}>
          {signOfUnit("°C")}
        </text>
        {ticks.map((tick) => (
          <g key={+tick} className="grid">
            <line x1={x(tick)} x2={x(tick)} y1={HEIGHT - BOX.bottom} y2={HEIGHT - BOX.bottom + 6} />
            <text x={x(tick)} y={HEIGHT - 8} textAnchor="middle">
              {clock(tick)}
            </text>
          </g>
        ))}
        {picked && (
          <rect
            className="picked"
            x={at(picked[0])}
            width={Math.max(at(picked[1]) - at(picked[0]), 2)}
            y={BOX.top}
            height={HEIGHT - BOX.bottom - BOX.top}
          />
        )}
        {trace.excursions.slice(0, 12).map((one) => (
          <rect
            key={one.from_s}
            className={`excursion ${one.side}`}
            x={Math.max(at(one.from_s), BOX.left)}
            width={Math.max(Math.min(at(one.to_s), width - BOX.right) - Math.max(at(one.from_s), BOX.left), 1)}
            y={HEIGHT - BOX.bottom}
            height={6}
          />
        ))}
        {trace.runs.map((run) => (
          <g key={run[0]?.[0]}>
            {trace.width_s > 0 && (
              <path
                className="band"
                d={`M ${run.map((one) => `${at(one[0])} ${y(one[3])}`).join(" L ")} L ${[...run]
                  .reverse()
                  .map((one) => `${at(one[0])} ${y(one[1])}`)
                  .join(" L ")} Z`}
              />
            )}
            <polyline className="curve" points={run.map((one) => `${at(one[0])},${y(one[2])}`).join(" ")} />
            {run.length === 1 &&
              run.map((one) => <circle key={one[0]} className="small" cx={at(one[0])} cy={y(one[2])} r={3} />)}
          </g>
        ))}
        {trace.marks.map((one) => (
          <g key={one.code} className={`print ${one.outcome && one.outcome !== "whole" ? "failed" : ""}`}>
            <title>
              {one.code}: {one.material ?? one.kind} on {one.printer}
              {one.temp_c === null ? "" : `, ${temperature(one.temp_c)} ${one.temp_place ?? ""}`}
              {one.outcome ? `, ${one.outcome}` : ""}
            </title>
            {one.kind === "print" ? (
              <rect x={at(one.at_s) - 5} y={MARK_Y - 5} width={10} height={10} />
            ) : one.kind === "test" ? (
              <path d={`M ${at(one.at_s)} ${MARK_Y - 6} l 6 11 h -12 z`} />
            ) : (
              <circle cx={at(one.at_s)} cy={MARK_Y} r={5} />
            )}
            {one.temp_c !== null && (
              <path
                className="start"
                d={`M ${at(one.at_s) - 4} ${y(one.temp_c)} h 8 M ${at(one.at_s)} ${y(one.temp_c) - 4} v 8`}
              />
            )}
          </g>
        ))}
        {onPick && <Picker width={width} second={(px) => +x.invert(px) / 1000} onPick={onPick} />}
      </svg>
      <PlotTable
        name={`Temperature of ${trace.probe.name}`}
        head={["Logged", `Lowest, ${signOfUnit("°C")}`, `Highest, ${signOfUnit("°C")}`]}
        rows={trace.runs.slice(0, MOST_STRETCHES).map(stretch)}
      />
      <PlotTools figure={ref} name={`Temperature of ${trace.probe.name}`} />
    </figure>
  );
}

/** Dragging across the plot picks a stretch of time. */
function Picker({
  width,
  second,
  onPick,
}: {
  width: number;
  second: (px: number) => number;
  onPick: (from: number, to: number) => void;
}) {
  return (
    <rect
      className="pick"
      x={BOX.left}
      y={BOX.top}
      width={Math.max(width - BOX.left - BOX.right, 1)}
      height={HEIGHT - BOX.bottom - BOX.top}
      onPointerDown={(down) => {
        const svg = down.currentTarget.ownerSVGElement;
        if (!svg) return;
        const at = (event: { clientX: number }) => second(event.clientX - svg.getBoundingClientRect().left);
        const from = at(down);
        const move = (event: PointerEvent) => onPick(Math.min(from, at(event)), Math.max(from, at(event)));
        const up = () => {
          window.removeEventListener("pointermove", move);
          window.removeEventListener("pointerup", up);
        };
        window.addEventListener("pointermove", move);
        window.addEventListener("pointerup", up);
      }}
    />
  );
}
