import { scaleTime } from "d3-scale";
import { useRef, useState } from "react";
import { clockTime, plural } from "../../shared/format";
import { useWidth } from "../../shared/useWidth";
import { at, atWork, type Lane, lanesOf, minutes, type Plan, shortName, stacked, type Step, toFive } from "./model";

const NAMES = 150;
const LINE = 30;
const PAD = 8;
const TOP = 28;
const LETTER = 6.6;
const MARGIN = 26;

type Props = {
  plan: Plan;
  from: number;
  to: number;
  chosen: string | null;
  onChoose: (key: string) => void;
  onMove: (step: Step, starts: number) => void;
};

/** The day as rows: printers, baths, places, the bench and the technician, with a line where the clock stands. */
export function PlanTimeline(props: Props) {
  const { plan, from, to } = props;
  const [box, width] = useWidth<HTMLDivElement>(900);
  const drawn = Math.max(width, to - from > minutes(24 * 60) ? 900 : ((to - from) / minutes(60)) * 56 + NAMES);
  const time = scaleTime([new Date(from), new Date(to)], [NAMES, drawn - MARGIN]);
  const lanes = lanesOf(plan);
  const rows = lanes.map((lane) => ({ lane, ...stacked(lane.steps) }));
  const tops: number[] = [];
  let height = TOP;
  for (const row of rows) {
    tops.push(height);
    height += row.lines * LINE + 2 * PAD;
  }
  const personTop = height;
  height += LINE + 2 * PAD;
  const now = at(plan.now);
  const week = to - from > minutes(24 * 60);
  return (
    <div ref={box} className="plan-timeline" role="region" aria-label="Plan, hour by hour">
      <svg width={drawn} height={height + 22} aria-label="Rows of the plan" role="group">
        {time.ticks(week ? 7 : Math.max(4, Math.floor((drawn - NAMES) / 80))).map((tick) => (
          <g key={+tick} transform={`translate(${time(tick)},0)`} aria-hidden>
            <line y1={TOP - 6} y2={height} stroke="var(--rule)" />
            <text y={14} textAnchor="middle" className="axis">
              {week
                ? tick.toLocaleDateString(undefined, { weekday: "short", day: "numeric" })
                : clockTime(tick.toISOString())}
            </text>
          </g>
        ))}
        {plan.shifts.map(([begins, ends]) => (
          <rect
            key={begins}
            x={clamp(time(at(begins)), drawn)}
            width={Math.max(clamp(time(at(ends)), drawn) - clamp(time(at(begins)), drawn), 0)}
            y={personTop + 2}
            height={LINE + 2 * PAD - 4}
            fill="var(--panel-soft)"
            stroke="var(--rule)"
            aria-hidden
          />
        ))}
        {rows.map((row, index) => (
          <LaneRow
            key={row.lane.key}
            {...props}
            {...row}
            y={tops[index] ?? TOP}
            drawn={drawn}
            x={(moment) => time(moment)}
          />
        ))}
        <LaneName
          name="You"
          detail={plan.compared ? `in ${plural(plan.compared.interruptions, "stretch", "stretches")}` : ""}
          y={personTop}
          lines={1}
        />
        {atWork(plan).map((spell, index) => {
          const left = clamp(time(spell.from), drawn);
          const right = clamp(time(spell.to), drawn);
          return right > left ? (
            <rect
              key={index}
              x={left}
              width={Math.max(right - left, 2)}
              y={personTop + PAD}
              height={LINE - 4}
              rx={3}
              fill="var(--violet)"
            >
              <title>{spell.name}</title>
            </rect>
          ) : null;
        })}
        {now >= from && now <= to && (
          <g aria-hidden transform={`translate(${time(now)},0)`}>
            <line y1={TOP - 8} y2={height} stroke="var(--bad)" strokeWidth={2} />
            <text y={height + 15} textAnchor="middle" className="now">
              now {clockTime(plan.now)}
            </text>
          </g>
        )}
      </svg>
    </div>
  );
}

const clamp = (x: number, drawn: number) => Math.min(Math.max(x, NAMES), drawn - MARGIN);

function LaneName({ name, detail, y, lines }: { name: string; detail: string; y: number; lines: number }) {
  const middle = y + PAD + (lines * LINE) / 2;
  return (
    <g>
      <text x={NAMES - 10} y={middle - 3} textAnchor="end" className="lane">
        {cut(name, 18)}
      </text>
      <text x={NAMES - 10} y={middle + 13} textAnchor="end" className="detail">
        {cut(detail, 22)}
      </text>
      <line x1={0} x2="100%" y1={y + lines * LINE + 2 * PAD} y2={y + lines * LINE + 2 * PAD} stroke="var(--rule)" />
    </g>
  );
}

const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

type RowProps = Props & {
  lane: Lane;
  line: Map<string, number>;
  lines: number;
  y: number;
  drawn: number;
  x: (moment: number) => number;
};

function LaneRow({ lane, line, lines, y, drawn, x, ...props }: RowProps) {
  return (
    <g role="group" aria-label={lane.name}>
      <LaneName name={lane.name} detail={lane.detail} y={y} lines={lines} />
      {lane.steps
        .filter((step) => at(step.ends_at) > props.from && at(step.starts_at) < props.to)
        .map((step) => (
          <Bar
            key={step.key}
            {...props}
            step={step}
            top={y + PAD + LINE * (line.get(step.key) ?? 0)}
            drawn={drawn}
            x={x}
          />
        ))}
    </g>
  );
}

type BarProps = Props & { step: Step; top: number; drawn: number; x: (moment: number) => number };

/** A step: chosen by a click or Enter, moved by dragging or by the arrow keys, five minutes at a time. */
function Bar({ step, top, drawn, x, chosen, onChoose, onMove, from, to }: BarProps) {
  const [dragged, setDragged] = useState(0);
  const began = useRef<number | null>(null);
  const left = clamp(x(at(step.starts_at)), drawn);
  const right = clamp(x(at(step.ends_at)), drawn);
  const perPixel = (to - from) / (x(to) - x(from));
  const movable = step.state !== "running";
  const words = [
    step.name,
    `${clockTime(step.starts_at)} to ${clockTime(step.ends_at)}`,
    step.state === "overdue" && "not begun in time",
    step.state === "running" && "running",
    step.pinned && "pinned",
    step.night && "over night",
    step.late_min > 0 && "after it is needed",
  ].filter(Boolean);
  function drop() {
    if (began.current === null) return;
    const moved = dragged * perPixel;
    began.current = null;
    setDragged(0);
    if (Math.abs(moved) >= minutes(3)) onMove(step, toFive(at(step.starts_at) + moved));
  }
  const room = Math.floor((right - left - 8) / LETTER);
  return (
    <>
      {step.change_at && (
        <line
          x1={clamp(x(at(step.change_at)), drawn)}
          x2={clamp(x(at(step.changed_at ?? step.starts_at)), drawn)}
          y1={top + (LINE - 4) / 2}
          y2={top + (LINE - 4) / 2}
          className="change"
        >
          <title>The vat is changed to {step.resin}</title>
        </line>
      )}
      <g
        role="button"
        tabIndex={0}
        aria-label={words.join(", ")}
        aria-pressed={chosen === step.key}
        className={`bar ${step.kind} ${step.state} ${chosen === step.key ? "chosen" : ""} ${step.late_min ? "late" : ""}`}
        transform={`translate(${left + dragged},${top})`}
        onClick={() => onChoose(step.key)}
        onKeyDown={(event) => {
          if (event.key === "Enter" || event.key === " ") {
            event.preventDefault();
            onChoose(step.key);
          }
          if (movable && (event.key === "ArrowLeft" || event.key === "ArrowRight")) {
            event.preventDefault();
            event.stopPropagation();
            onMove(step, toFive(at(step.starts_at) + (event.key === "ArrowLeft" ? -1 : 1) * minutes(5)));
          }
        }}
        onPointerDown={(event) => {
          if (!movable) return;
          began.current = event.clientX;
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={(event) => began.current !== null && setDragged(event.clientX - began.current)}
        onPointerUp={drop}
        onPointerCancel={() => {
          began.current = null;
          setDragged(0);
        }}
      >
        <title>{words.join(", ")}</title>
        <rect width={Math.max(right - left, 4)} height={LINE - 4} rx={3} />
        {step.pinned && <circle cx={Math.max(right - left, 4)} cy={3} r={4} className="pin" />}
        {room > 3 && (
          <text x={5} y={18}>
            {cut(shortName(step), room)}
          </text>
        )}
      </g>
    </>
  );
}
