import { useWidth } from "../useWidth";
import type { Schemas } from "../api/client";
import { KIND_NAMES, threeDigits, plain } from "../format";
import { markFor, MarkShape } from "../StateMark";
import { exposureAxis, ticks, type Axis } from "./axis";
import { Chosen } from "./Chosen";
import { LaneRow } from "./LaneRow";
import { stagger, type StripMark } from "./marks";
import { Patterns } from "./Patterns";
import { PrintsRow, type PrintsTell } from "./PrintsRow";
import { Ridge } from "./Ridge";
import { conditions, emptyWords, summary } from "./words";
import "./strip.scss";
import { domainOf } from "../plot/scale";

type Result = Schemas["WindowResult"];

type Props = {
  result: Result | null;
  marks: StripMark[];
  /** Range shown even when nothing is printed there yet. */
  range: [number, number];
  step: number;
  chosen?: number | null;
  onChoose?: (exposure_s: number) => void;
  onMark?: (code: string) => void;
  /** Exposures that are proposed and not planned yet, s. */
  proposed?: number[];
  /** What else was read: vernier, gauge piece, smallest code. */
  seen?: Schemas["SeenMark"][];
  /** What prints of real parts tell, as a hollow lane under those of the coupons. */
  prints?: PrintsTell | null;
  /** Prints are all the evidence there is: their lane stands alone. */
  alone?: boolean;
  /** Small strips leave the lanes' second line away. */
  compact?: boolean;
};

/** Where everything stands on a strip of this width. */
function laidOut(
  { result, marks, proposed = [], range, seen = [], prints, alone, onChoose, chosen, step }: Props,
  width: number,
) {
  const narrow = width < 560;
  const left = narrow ? 16 : 168;
  const right = width - (narrow ? 16 : 24);
  const printed = prints?.seen.map((one) => one.exposure_s) ?? [];
  const times = [...marks.map((m) => m.exposure_s), ...printed, ...proposed, ...range];
  const axis = exposureAxis(Math.min(...times) / 1.18, Math.max(...times) * 1.18, left, Math.max(right, left + 50));
  const lanes = alone ? [] : Object.entries(result?.lanes ?? {}).sort(([, one], [, other]) => one.place - other.place);
  const laneHeight = narrow ? 58 : 46;
  const kinds = [...new Set(marks.map((m) => m.kind))].sort();
  const markRows = stagger(marks, kinds, axis);
  const top = 30;
  const marksTop = top + 12;
  const ridgeTop = marksTop + 19 * Math.max(1, ...markRows.map((m) => m.row + 1)) + 4;
  const ridgeHeight = result?.p_holds.length ? (narrow ? 76 : 92) : 0;
  const lanesTop = ridgeTop + ridgeHeight + 24;
  const lanesBottom = lanesTop + laneHeight * Math.max(lanes.length, alone && printed.length ? 0 : 1);
  const printsHeight = printed.length ? laneHeight + 6 : 0;
  const seenHeight = seen.length && lanes.length ? 22 * seen.length + 6 : 0;
  // Where there is no room for one long line, each part has its own.
  const parts = summary(result, chosen ?? null, step);
  const said = [
    ...(narrow ? parts : [parts.join(" · ")]).map((text) => ({ text, soft: false })),
    ...(conditions(result) ? [{ text: conditions(result), soft: true }] : []),
  ];
  const height = lanesBottom + printsHeight + seenHeight + (onChoose ? 46 : 14) + 20 * said.length;
  return {
    narrow,
    left,
    right,
    axis,
    lanes,
    laneHeight,
    kinds,
    markRows,
    top,
    marksTop,
    ridgeTop,
    ridgeHeight,
    lanesTop,
    lanesBottom,
    printsHeight,
    seenHeight,
    said,
    height,
  };
}

/** Exposure is an axis: coupons as marks, a lane per criterion under them, the window where all overlap. */
export function ExposureStrip(props: Props) {
  const { result, marks, step, chosen, onChoose, onMark, compact, proposed = [], seen = [], prints, alone } = props;
  const [frame, width] = useWidth<HTMLDivElement>(0);
  const {
    narrow,
    left,
    right,
    axis,
    lanes,
    laneHeight,
    kinds,
    markRows,
    top,
    marksTop,
    ridgeTop,
    ridgeHeight,
    lanesTop,
    lanesBottom,
    printsHeight,
    seenHeight,
    said,
    height,
  } = laidOut(props, width);
  const window = result?.window ?? null;

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
          <Zones
            result={result}
            axis={axis}
            left={left}
            right={right}
            top={top}
            lanesTop={lanesTop}
            lanesBottom={lanesBottom}
          />
          <AxisLine axis={axis} y={top} left={left} right={right} narrow={narrow} />
          <Proposed exposures={proposed} axis={axis} y={top} labelled={!marks.length} />
          {result && ridgeHeight > 0 && (
            <Ridge {...{ result, axis, left, right, narrow }} y={ridgeTop} height={ridgeHeight} />
          )}
          <text className="soft" x={left} y={lanesTop - 8}>
            ◀ too little light
          </text>
          <text className="soft" x={right} y={lanesTop - 8} textAnchor="end">
            too much light ▶
          </text>
          {!narrow &&
            kinds.length > 1 &&
            kinds.map((kind) => (
              <KindName
                key={kind}
                kind={kind}
                x={left - 12}
                y={marksTop + 13 + 19 * Math.min(...markRows.filter((m) => m.kind === kind).map((m) => m.row))}
              />
            ))}
          {markRows.map((mark) => (
            <CouponMark
              key={mark.code}
              mark={mark}
              x={axis(mark.exposure_s)}
              y={marksTop + 19 * mark.row}
              onMark={onMark}
            />
          ))}
          {lanes.map(([name, lane], index) => (
            <LaneRow
              key={name}
              name={name}
              lane={lane}
              said={lane.needs}
              axis={axis}
              left={left}
              right={right}
              y={lanesTop + laneHeight * index}
              height={laneHeight}
              narrow={narrow}
              compact={compact}
              hollow={result?.method === "prints"}
              sets={{ lower: window?.lower_from === name, upper: window?.upper_from === name }}
              mark={name === "size" ? (result?.size_true_s ?? null) : null}
              borders={result?.conflict ? [axis(result.conflict.upper_s), axis(result.conflict.lower_s)] : []}
            />
          ))}
          <Balance result={result} lanes={lanes.map(([name]) => name)} axis={axis} top={lanesTop} height={laneHeight} />
          {prints && printsHeight > 0 && (
            <PrintsRow {...{ prints, axis, left, right, narrow }} y={lanesBottom} height={laneHeight} />
          )}
          {seenHeight > 0 &&
            seen.map((mark, index) => (
              <SeenRow
                key={mark.key}
                mark={mark}
                axis={axis}
                left={left}
                right={right}
                y={lanesBottom + printsHeight + 14 + 22 * index}
                narrow={narrow}
              />
            ))}
          {lanes.length === 0 && !(alone && printsHeight > 0) && (
            <text className="soft" x={(left + right) / 2} y={lanesTop + 28} textAnchor="middle">
              {alone ? "No print of parts is logged yet." : emptyWords(result, marks, proposed.length > 0)}
            </text>
          )}
          {chosen !== null && chosen !== undefined && (
            <Chosen
              axis={axis}
              value={chosen}
              step={step}
              top={ridgeHeight ? ridgeTop + 14 : lanesTop - 2}
              bottom={lanesBottom + printsHeight + seenHeight + 8}
              bounds={result?.ladder_s ?? domainOf(axis)}
              onChoose={onChoose}
            />
          )}
          <g data-decision={result?.decision}>
            {said.map(({ text, soft }, index) => (
              <text
                key={text}
                className={soft ? "soft" : "summary"}
                x={(left + right) / 2}
                y={height - 6 - 20 * (said.length - 1 - index)}
                textAnchor="middle"
              >
                {text}
              </text>
            ))}
          </g>
        </svg>
      )}
      {lanes.length > 0 && <StripTable lanes={lanes} seen={seen} />}
    </div>
  );
}

const KindName = ({ kind, x, y }: { kind: string; x: number; y: number }) => (
  <text className="soft" x={x} y={y} textAnchor="end">
    {KIND_NAMES[kind]}
  </text>
);

type ZonesProps = {
  result: Result | null;
  axis: Axis;
  left: number;
  right: number;
  top: number;
  lanesTop: number;
  lanesBottom: number;
};

/** Too little, the window, too much; or, where the lanes do not overlap, the gap between them. */
function Zones({ result, axis, left, right, top, lanesTop, lanesBottom }: ZonesProps) {
  const window = result?.window;
  const conflict = result?.conflict;
  const low = window ? axis(window.lower_s) : null;
  const high = window ? axis(window.upper_s) : null;
  return (
    <>
      {low !== null && high !== null && (
        <>
          <rect
            className="too-little"
            x={left}
            y={lanesTop}
            width={Math.max(low - left, 0)}
            height={lanesBottom - lanesTop}
          />
          <rect
            className="too-much"
            x={high}
            y={lanesTop}
            width={Math.max(right - high, 0)}
            height={lanesBottom - lanesTop}
          />
          <rect
            className="window"
            x={low}
            y={top + 4}
            width={Math.max(high - low, 1)}
            height={lanesBottom - top + 12}
            rx={6}
          />
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
            <line
              key={value}
              className="conflict-edge"
              x1={axis(value)}
              x2={axis(value)}
              y1={lanesTop - 4}
              y2={lanesBottom + 4}
            />
          ))}
        </g>
      )}
    </>
  );
}

/** Rings on the axis: what would be printed next. */
function Proposed({ exposures, axis, y, labelled }: { exposures: number[]; axis: Axis; y: number; labelled: boolean }) {
  return exposures.map((value) => (
    <g
      key={value}
      transform={`translate(${axis(value)} ${y})`}
      role="img"
      aria-label={`Proposed: ${value} s`}
      data-proposed={value}
    >
      <title>Proposed: {value} s</title>
      <circle className="proposed" r={6} />
      {labelled && (
        <text className="number soft" y={21} textAnchor="middle">
          {value}
        </text>
      )}
    </g>
  ));
}

function CouponMark({
  mark,
  x,
  y,
  onMark,
}: {
  mark: ReturnType<typeof stagger>[number];
  x: number;
  y: number;
  onMark?: (code: string) => void;
}) {
  return (
    <g
      transform={`translate(${x} ${y})`}
      data-mark={mark.code}
      role={onMark ? "button" : "img"}
      tabIndex={onMark ? 0 : undefined}
      style={{ cursor: onMark ? "pointer" : undefined }}
      aria-label={`Coupon ${mark.code}, ${mark.exposure_s} s, ${markFor(mark.mark).word}`}
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
  );
}

/** Where as many walls stand as slots are open, across both lanes. */
function Balance({
  result,
  lanes,
  axis,
  top,
  height,
}: {
  result: Result | null;
  lanes: string[];
  axis: Axis;
  top: number;
  height: number;
}) {
  const [walls, slots] = [lanes.indexOf("walls"), lanes.indexOf("slots")];
  if (!result?.balance_s || walls < 0 || slots < 0) return null;
  const x = axis(result.balance_s);
  return (
    <line
      className="balance"
      data-balance={result.balance_s}
      x1={x}
      x2={x}
      y1={top + height * walls + 6}
      y2={top + height * (slots + 1) - 6}
    >
      <title>As many walls stand as slots are open: {threeDigits(result.balance_s)} s</title>
    </line>
  );
}

/** A mark that comes from no lane: read off the coupon by eye. */
function SeenRow({
  mark,
  axis,
  left,
  right,
  y,
  narrow,
}: {
  mark: Schemas["SeenMark"];
  axis: Axis;
  left: number;
  right: number;
  y: number;
  narrow: boolean;
}) {
  const x = axis(mark.exposure_s);
  const [from, to] = mark.interval_s ? [axis(mark.interval_s[0]), axis(mark.interval_s[1])] : [x, x];
  // Beside the whole mark, on the side that has room.
  const after = Math.max(to, x + 6) + 5;
  const fits = after + 7.5 * mark.name.length < right;
  return (
    <g className="seen" data-seen={mark.key}>
      <title>{mark.meaning}</title>
      {!narrow && (
        <text className="soft" x={left - 12} y={y + 5} textAnchor="end">
          {mark.name}
        </text>
      )}
      {mark.interval_s && <line x1={from} x2={to} y1={y} y2={y} />}
      <path d={`M${x} ${y - 6} l6 6 l-6 6 l-6 -6 z`} />
      {narrow && (
        <text
          className="soft"
          x={fits ? after : Math.min(from, x - 6) - 5}
          y={y + 5}
          textAnchor={fits ? "start" : "end"}
        >
          {mark.name}
        </text>
      )}
    </g>
  );
}

/** The same numbers for people who hear the page. */
function StripTable({
  lanes,
  seen,
}: {
  lanes: (readonly [string, Schemas["LaneEnds"]])[];
  seen: Schemas["SeenMark"][];
}) {
  const end = (value: number | null, interval: [number, number] | null) =>
    value === null
      ? "open"
      : `${threeDigits(value)} s${interval ? `, between ${threeDigits(interval[0])} and ${threeDigits(interval[1])} s` : ""}`;
  // A table keeps its own width, so the box around it hides it.
  return (
    <div className="visually-hidden">
      <table>
        <caption>Lanes</caption>
        <thead>
          <tr>
            <th scope="col">Lane</th>
            <th scope="col">from</th>
            <th scope="col">to</th>
          </tr>
        </thead>
        <tbody>
          {lanes.map(([name, lane]) => (
            <tr key={name}>
              <th scope="row">{lane.name || name}</th>
              <td>{end(lane.lower_s, lane.lower_ci_s)}</td>
              <td>{end(lane.upper_s, lane.upper_ci_s)}</td>
            </tr>
          ))}
          {seen.map((mark) => (
            <tr key={mark.key}>
              <th scope="row">{mark.name}</th>
              <td colSpan={2}>
                {threeDigits(mark.exposure_s)} s: {mark.meaning}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function AxisLine({
  axis,
  y,
  left,
  right,
  narrow,
}: {
  axis: Axis;
  y: number;
  left: number;
  right: number;
  narrow: boolean;
}) {
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
            {plain(value)}
          </text>
        </g>
      ))}
    </g>
  );
}
