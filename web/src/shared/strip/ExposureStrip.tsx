import { useEffect, useId, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Schemas } from "../api/client";
import { exposure as asExposure, LANE_NAMES, size, THIN, threeDigits } from "../format";
import { MARKS, MarkShape } from "../StateMark";
import { exposureAxis, ticks, type Axis } from "./axis";
import "./strip.scss";

type Result = Schemas["WindowResult"];
type Lane = Schemas["LaneEnds"];
type Limits = Schemas["Limits"];

export type StripMark = { code: string; kind: string; exposure_s: number; mark: string };

type Props = {
  result: Result | null;
  limits: Limits;
  marks: StripMark[];
  /** Range shown even when nothing is printed there yet. */
  range: [number, number];
  step: number;
  chosen?: number | null;
  onChoose?: (exposure_s: number) => void;
  onMark?: (code: string) => void;
  /** Small strips leave the lanes' second line away. */
  compact?: boolean;
};

const LANE_ORDER = ["size", "z", "walls", "slots", "tips", "cure", "fail-tip"];

/** Exposure is an axis: coupons as marks, a lane per criterion under them, the window where all overlap. */
export function ExposureStrip(props: Props) {
  const { result, limits, marks, range, step, chosen, onChoose, onMark, compact } = props;
  const [frame, width] = useWidth();
  const id = useId().replace(/:/g, "");
  const narrow = width < 560;
  const left = narrow ? 16 : 168;
  const right = width - (narrow ? 16 : 24);
  const times = [...marks.map((m) => m.exposure_s), ...range];
  const axis = exposureAxis(Math.min(...times) / 1.18, Math.max(...times) * 1.18, left, Math.max(right, left + 50));
  const lanes = LANE_ORDER.filter((name) => result?.lanes[name]).map((name) => [name, result!.lanes[name]!] as const);
  const laneHeight = narrow ? 58 : 46;
  const kinds = [...new Set(marks.map((m) => m.kind))].sort();
  const markRows = stagger(marks, kinds, axis);
  const top = 30;
  const marksTop = top + 12;
  const lanesTop = marksTop + 19 * Math.max(1, ...markRows.map((m) => m.row + 1)) + 26;
  const lanesBottom = lanesTop + laneHeight * Math.max(lanes.length, 1);
  const height = lanesBottom + (onChoose ? 66 : 34);
  const window = result?.window ?? null;
  const conflict = result?.conflict ?? null;
  const low = window ? axis(window.lower_s) : null;
  const high = window ? axis(window.upper_s) : null;

  return (
    <div className="strip" ref={frame}>
      {width > 0 && (
        <svg
          width={width}
          height={height}
          role="group"
          aria-label="Exposure strip"
          data-domain={JSON.stringify(axis.domain())}
          data-range={JSON.stringify(axis.range())}
        >
          <Patterns />
          {low !== null && high !== null && (
            <>
              <rect className="too-little" x={left} y={lanesTop} width={Math.max(low - left, 0)} height={lanesBottom - lanesTop} />
              <rect className="too-much" x={high} y={lanesTop} width={Math.max(right - high, 0)} height={lanesBottom - lanesTop} />
              <rect className="window" x={low} y={top + 4} width={Math.max(high - low, 1)} height={lanesBottom - top + 12} rx={6} />
            </>
          )}
          {conflict && (
            <g data-conflict={conflict.proven ? "proven" : "open"}>
              <rect
                className="conflict"
                x={axis(conflict.upper_s)}
                y={lanesTop - 4}
                width={Math.max(axis(conflict.lower_s) - axis(conflict.upper_s), 2)}
                height={lanesBottom - lanesTop + 8}
              />
              {[conflict.upper_s, conflict.lower_s].map((value) => (
                <line key={value} className="conflict-edge" x1={axis(value)} x2={axis(value)} y1={lanesTop - 4} y2={lanesBottom + 4} />
              ))}
            </g>
          )}
          <AxisLine axis={axis} y={top} left={left} right={right} narrow={narrow} />
          <text className="soft" x={left} y={lanesTop - 8}>
            ◀ too little light
          </text>
          <text className="soft" x={right} y={lanesTop - 8} textAnchor="end">
            too much light ▶
          </text>
          {!narrow &&
            kinds.length > 1 &&
            kinds.map((kind) => (
              <text key={kind} className="soft" x={left - 12} y={marksTop + 13 + 19 * Math.min(...markRows.filter((m) => m.kind === kind).map((m) => m.row))} textAnchor="end">
                {kind}
              </text>
            ))}
          {markRows.map((mark) => (
            <g
              key={mark.code}
              transform={`translate(${axis(mark.exposure_s)} ${marksTop + 19 * mark.row})`}
              data-mark={mark.code}
              role={onMark ? "button" : "img"}
              tabIndex={onMark ? 0 : undefined}
              style={{ cursor: onMark ? "pointer" : undefined }}
              aria-label={`Coupon ${mark.code}, ${mark.exposure_s} s, ${MARKS[mark.mark]?.word ?? mark.mark}`}
              onClick={() => onMark?.(mark.code)}
              onKeyDown={(event) => event.key === "Enter" && onMark?.(mark.code)}
            >
              <g transform="translate(-8 0)">
                <MarkShape name={mark.mark} size={16} />
              </g>
              {mark.labelled && (
                <text className="number soft" x={11} y={13}>
                  {mark.code}
                </text>
              )}
            </g>
          ))}
          {lanes.map(([name, lane], index) => (
            <LaneRow
              key={name}
              name={name}
              lane={lane}
              said={laneWords(name, limits)}
              axis={axis}
              left={left}
              right={right}
              y={lanesTop + laneHeight * index}
              height={laneHeight}
              narrow={narrow}
              compact={compact}
              sets={{ lower: window?.lower_from === name, upper: window?.upper_from === name }}
              mark={name === "size" ? (result?.size_true_s ?? null) : null}
            />
          ))}
          {result?.balance_s && lanes.some(([n]) => n === "walls") && lanes.some(([n]) => n === "slots") && (
            <line
              className="balance"
              data-balance={result.balance_s}
              x1={axis(result.balance_s)}
              x2={axis(result.balance_s)}
              y1={lanesTop + laneHeight * lanes.findIndex(([n]) => n === "walls") + 6}
              y2={lanesTop + laneHeight * (lanes.findIndex(([n]) => n === "slots") + 1) - 6}
            >
              <title>As many walls stand as slots are open: {threeDigits(result.balance_s)} s</title>
            </line>
          )}
          {lanes.length === 0 && (
            <text className="soft" x={(left + right) / 2} y={lanesTop + 28} textAnchor="middle">
              {emptyWords(result, marks)}
            </text>
          )}
          {chosen !== null && chosen !== undefined && (
            <Chosen
              axis={axis}
              value={chosen}
              step={step}
              top={lanesTop - 2}
              bottom={lanesBottom + 8}
              bounds={result?.ladder_s ?? [axis.domain()[0]!, axis.domain()[1]!]}
              onChoose={onChoose}
              label={id}
            />
          )}
          <text className="summary" x={(left + right) / 2} y={height - 6} textAnchor="middle">
            {summary(result)}
          </text>
        </svg>
      )}
    </div>
  );
}

function AxisLine({ axis, y, left, right, narrow }: { axis: Axis; y: number; left: number; right: number; narrow: boolean }) {
  return (
    <g className="axis" aria-hidden="true">
      <line x1={left} x2={right} y1={y} y2={y} />
      {!narrow && (
        <text className="soft" x={left - 12} y={y + 4} textAnchor="end">
          exposure, s
        </text>
      )}
      {ticks(axis, 46).map((value) => (
        <g key={value} transform={`translate(${axis(value)} ${y})`}>
          <line y1={-5} y2={5} />
          <text className="number soft" y={-10} textAnchor="middle">
            {value}
          </text>
        </g>
      ))}
    </g>
  );
}

type RowProps = {
  name: string;
  lane: Lane;
  said: string;
  axis: Axis;
  left: number;
  right: number;
  y: number;
  height: number;
  narrow: boolean;
  compact?: boolean;
  sets: { lower: boolean; upper: boolean };
  mark: number | null;
};

function LaneRow({ name, lane, said, axis, left, right, y, height, narrow, compact, sets, mark }: RowProps) {
  const middle = y + (narrow ? 40 : height / 2);
  const inside = (x: number) => Math.min(Math.max(x, left), right);
  const barLow = lane.lower_used_s !== null ? inside(axis(lane.lower_used_s)) : left;
  const barHigh = lane.upper_used_s !== null ? inside(axis(lane.upper_used_s)) : right;
  const beyondOnly = lane.beyond !== null && lane.lower_used_s === null && lane.upper_used_s === null;
  return (
    <g
      data-lane={name}
      data-lower={lane.lower_s ?? ""}
      data-upper={lane.upper_s ?? ""}
      data-lower-used={lane.lower_used_s ?? ""}
      data-upper-used={lane.upper_used_s ?? ""}
    >
      <text x={narrow ? left : left - 12} y={narrow ? y + 16 : middle - (compact ? -4 : 3)} textAnchor={narrow ? "start" : "end"} fontWeight={600}>
        {LANE_NAMES[name] ?? name}
        {narrow && <tspan className="soft" fontWeight={400}>{`  ${said}`}</tspan>}
      </text>
      {!narrow && !compact && (
        <text className="soft" x={left - 12} y={middle + 14} textAnchor="end">
          {said}
        </text>
      )}
      {!beyondOnly && barHigh > barLow && (
        <rect className="lane-bar" data-part="bar" x={barLow} y={middle - 9} width={barHigh - barLow} height={18} rx={3} />
      )}
      <End side="lower" value={lane.lower_s} used={lane.lower_used_s} interval={lane.lower_ci_s} capped={lane.lower_capped} sets={sets.lower} {...{ axis, middle, inside, left, right }} />
      <End side="upper" value={lane.upper_s} used={lane.upper_used_s} interval={lane.upper_ci_s} capped={lane.upper_capped} sets={sets.upper} {...{ axis, middle, inside, left, right }} />
      {(lane.lower_capped || lane.upper_capped) && lane.bracket_s && <Bracket bracket={lane.bracket_s} {...{ axis, middle, inside }} />}
      {lane.beyond && (
        <text className="beyond" data-part="beyond" x={lane.beyond === "longer" ? right : left} y={middle + 5} textAnchor={lane.beyond === "longer" ? "end" : "start"}>
          {lane.beyond === "longer" ? "end lies further right: print longer ▶" : "◀ end lies further left: print shorter"}
        </text>
      )}
      {mark !== null && (
        <path
          className="true-mark"
          data-part="size-true"
          data-at={mark}
          transform={`translate(${axis(mark)} ${middle})`}
          d="M0-8 6 0 0 8-6 0z"
        >
          <title>Size-true: {threeDigits(mark)} s</title>
        </path>
      )}
      <line className="divider" x1={narrow ? left : left} x2={right} y1={y + height} y2={y + height} />
    </g>
  );
}

type EndProps = {
  side: "lower" | "upper";
  value: number | null;
  used: number | null;
  interval: [number, number] | null;
  capped: boolean;
  sets: boolean;
  axis: Axis;
  middle: number;
  inside: (x: number) => number;
  left: number;
  right: number;
};

/** One end of a lane with its doubt. An end off the ladder is drawn where it counts, dashed. */
function End({ side, value, used, interval, capped, sets, axis, middle, inside, left, right }: EndProps) {
  if (used === null) return null;
  const clipped = value === null || Math.abs(value - used) > 1e-9 * used;
  const x = inside(axis(value ?? used));
  const whisker = interval && ([inside(axis(interval[0])), inside(axis(interval[1]))] as const);
  const outer = whisker ? (side === "lower" ? Math.min(whisker[0], x) : Math.max(whisker[1], x)) : x;
  const label = value === null ? null : threeDigits(value);
  const [labelX, anchor] = labelPlace(side, x, outer, whisker, left, right);
  return (
    <g data-end={side} data-capped={capped} data-clipped={clipped}>
      {whisker && whisker[1] > whisker[0] && (
        <rect
          className="doubt"
          data-part="whisker"
          data-from={interval![0]}
          data-to={interval![1]}
          x={whisker[0]}
          y={middle - 9}
          width={whisker[1] - whisker[0]}
          height={18}
        />
      )}
      <line
        className={`end ${sets ? "sets" : ""} ${clipped ? "clipped" : ""}`}
        data-part="end"
        x1={x}
        x2={x}
        y1={middle - 12}
        y2={middle + 12}
      />
      {label && (
        <text className="end-label" x={labelX} y={middle + 5} textAnchor={anchor}>
          {label}
        </text>
      )}
    </g>
  );
}

const LABEL_ROOM = 46;

/** Where an end's number stands: outside its doubt, else inside it, else wherever it fits. */
function labelPlace(
  side: "lower" | "upper",
  x: number,
  outer: number,
  whisker: readonly [number, number] | null,
  left: number,
  right: number,
): [number, "start" | "end"] {
  const lower = side === "lower";
  if (lower ? outer - left > LABEL_ROOM : right - outer > LABEL_ROOM) return lower ? [outer - 7, "end"] : [outer + 7, "start"];
  const inner = lower ? Math.max(x, whisker?.[1] ?? x) : Math.min(x, whisker?.[0] ?? x);
  if (lower ? right - inner > LABEL_ROOM : inner - left > LABEL_ROOM) return lower ? [inner + 7, "start"] : [inner - 7, "end"];
  return right - x > LABEL_ROOM ? [x + 6, "start"] : [x - 6, "end"];
}

function Bracket({ bracket, axis, middle, inside }: { bracket: [number | null, number | null]; axis: Axis; middle: number; inside: (x: number) => number }) {
  const [lo, hi] = bracket;
  if (lo === null || hi === null) return null;
  const [a, b] = [inside(axis(lo)), inside(axis(hi))];
  return (
    <path className="bracket" data-part="bracket" d={`M${a} ${middle + 10}v5H${b}v-5`}>
      <title>
        Between {lo} s and {hi} s, read without a model
      </title>
    </path>
  );
}

type ChosenProps = {
  axis: Axis;
  value: number;
  step: number;
  top: number;
  bottom: number;
  bounds: [number, number];
  onChoose?: (value: number) => void;
  label: string;
};

function Chosen({ axis, value, step, top, bottom, bounds, onChoose }: ChosenProps) {
  const x = axis(value);
  const snap = (raw: number) => Number(Math.min(Math.max(Math.round(raw / step) * step, bounds[0]), bounds[1]).toFixed(6));
  function onKeyDown(event: KeyboardEvent) {
    const moves: Record<string, number> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -5, PageUp: 5 };
    const steps = moves[event.key];
    if (steps !== undefined && onChoose) {
      event.preventDefault();
      event.stopPropagation();
      onChoose(snap(value + steps * step));
    }
  }
  function onPointerMove(event: PointerEvent<SVGGElement>) {
    if (!onChoose || !(event.buttons & 1)) return;
    const frame = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    onChoose(snap(axis.invert(event.clientX - frame.left)));
  }
  const text = `${asExposure(value, step)}${THIN}s`;
  const half = text.length * 5.4 + 8;
  const at = Math.min(Math.max(x, axis.range()[0]! + half - 14), axis.range()[1]! - half + 20);
  return (
    <g
      className="chosen"
      role="slider"
      tabIndex={onChoose ? 0 : -1}
      aria-label="Chosen exposure"
      aria-valuemin={bounds[0]}
      aria-valuemax={bounds[1]}
      aria-valuenow={value}
      aria-valuetext={`${value} seconds`}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={onPointerMove}
    >
      <line data-part="chosen" x1={x} x2={x} y1={top} y2={bottom} />
      <rect x={x - 11} y={top} width={22} height={bottom - top} style={{ fill: "transparent" }} />
      <rect x={at - half} y={bottom} width={2 * half} height={28} rx={6} />
      <text x={at} y={bottom + 20} textAnchor="middle">
        {text}
      </text>
    </g>
  );
}

function Patterns() {
  return (
    <defs>
      <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="5" stroke="var(--violet-mid)" strokeWidth="1.6" />
      </pattern>
      <pattern id="conflict-hatch" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
        <rect width="8" height="8" fill="var(--bad-wash)" />
        <line x1="0" y1="0" x2="0" y2="8" stroke="var(--bad)" strokeWidth="1.4" opacity="0.6" />
      </pattern>
    </defs>
  );
}

type Placed = StripMark & { row: number; labelled: boolean };

const MOST_ROWS = 4;

/** Kinds stand in rows of their own; marks that would touch move down a row, and past four rows lose their label. */
function stagger(marks: StripMark[], kinds: string[], axis: Axis): Placed[] {
  const placed: Placed[] = [];
  let first = 0;
  for (const kind of kinds) {
    const ends: number[] = [];
    for (const mark of marks.filter((one) => one.kind === kind).sort((a, b) => a.exposure_s - b.exposure_s)) {
      const x = axis(mark.exposure_s);
      const free = ends.findIndex((end) => x - 9 >= end);
      const row = free >= 0 ? free : ends.length < MOST_ROWS ? ends.length : ends.indexOf(Math.min(...ends));
      const labelled = free >= 0 || row === ends.length;
      ends[row] = x + (labelled ? 54 : 10);
      placed.push({ ...mark, row: first + row, labelled });
    }
    first += ends.length;
  }
  return placed;
}

function laneWords(name: string, limits: Limits): string {
  const share = (p: number) => `${Number((100 * p).toFixed(1))}${THIN}%`;
  switch (name) {
    case "size": {
      const target = limits.growth_target_um ? `${limits.growth_target_um} ` : "";
      return `within ${target}±${limits.growth_tol_um}${THIN}µm`;
    }
    case "z":
      return `at most ${limits.z_bloom_max_um}${THIN}µm`;
    case "walls":
      return `${size(limits.walls_size_mm ?? 0)}${THIN}mm, ${share(limits.walls_probability)} stand`;
    case "slots":
      return `${size(limits.slots_size_mm ?? 0)}${THIN}mm, ${share(limits.slots_probability)} open`;
    case "tips":
      return limits.tips_per_part
        ? `${size(limits.tips_size_mm ?? 0)}${THIN}mm, ${limits.tips_per_part} hold ${share(limits.tips_probability)}`
        : `${size(limits.tips_size_mm ?? 0)}${THIN}mm, hold ${share(limits.tips_probability)}`;
    case "cure":
      return "binds to the layer below";
    case "fail-tip":
      return `${size(limits.fail_tip_size_mm ?? 0)}${THIN}mm lets go`;
    default:
      return "";
  }
}

function summary(result: Result | null): string {
  if (!result) return "";
  if (result.window) {
    const { lower_s, upper_s, latitude_pct } = result.window;
    const provisional = result.provisional ? " · provisional" : "";
    return `window ${threeDigits(lower_s)}–${threeDigits(upper_s)}${THIN}s · latitude ${latitude_pct.toFixed(0)}${THIN}%${provisional}`;
  }
  if (result.conflict) return `lanes are ${result.conflict.gap_pct.toFixed(0)}${THIN}% apart`;
  return "";
}

function emptyWords(result: Result | null, marks: StripMark[]): string {
  if (!marks.length) return "Coupons appear here in the order of exposure.";
  if (!result) return "Lanes appear when two coupons are read.";
  if (result.warnings.some((w) => w.code === "wrong-direction")) return "No lane can be drawn: more light made less.";
  return "One more exposure makes the first lanes.";
}

function useWidth(): [React.RefObject<HTMLDivElement | null>, number] {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
