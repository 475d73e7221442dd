import type { Schemas } from "../api/client";
import { chance, threeDigits } from "../format";
import type { Axis } from "./axis";

type Lane = Schemas["LaneEnds"];

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
  /** It rests on parts, and not on features that were measured. */
  hollow?: boolean;
  sets: { lower: boolean; upper: boolean };
  mark: number | null;
  /** Where the borders of a gap between lanes stand, which no number may lie on. */
  borders: number[];
};

const LABEL_PX = 62;
/** Room that "binds 100 %" takes. */
const BINDS_PX = 84;

/** One lane: what it accepts, and the uncertainty of its ends. */
export function LaneRow(props: RowProps) {
  const { name, lane, said, axis, left, right, y, height, narrow, compact, hollow, sets, mark, borders } = props;
  const middle = y + (narrow ? 40 : height / 2);
  const inside = (x: number) => Math.min(Math.max(x, left), right);
  const barLow = lane.lower_used_s !== null ? inside(axis(lane.lower_used_s)) : left;
  const barHigh = lane.upper_used_s !== null ? inside(axis(lane.upper_used_s)) : right;
  // An end that lies on the axis already has its number there: the words stand behind it.
  const shown = lane.beyond === "longer" ? lane.lower_s : lane.upper_s;
  const shownAt = shown !== null && axis(shown) > left && axis(shown) < right ? axis(shown) : null;
  const beyondAt =
    lane.beyond === "longer"
      ? shownAt === null
        ? right
        : shownAt - LABEL_PX
      : shownAt === null
        ? left
        : shownAt + LABEL_PX;
  // Said at the open end of the bar, away from the end that binds, and clear of intervals and marks.
  const boundAbove = lane.upper_used_s !== null;
  const after =
    Math.max(barLow, lane.lower_ci_s && lane.lower_used_s !== null ? inside(axis(lane.lower_ci_s[1])) : barLow) + 8;
  const bindsAt = mark !== null && axis(mark) > after - 8 && axis(mark) < after + BINDS_PX ? axis(mark) + 12 : after;
  const crowded = narrow && lane.lower_used_s !== null && lane.upper_used_s !== null;
  const binds = !compact && !crowded && (lane.binding ?? 0) >= 0.05 && barHigh - barLow > 190;
  const notFound =
    (lane.lower_used_s !== null && !lane.found.lower) || (lane.upper_used_s !== null && !lane.found.upper);
  const beyondOnly = lane.beyond !== null && lane.lower_used_s === null && lane.upper_used_s === null;
  return (
    <g
      data-lane={name}
      data-lower={lane.lower_s ?? ""}
      data-upper={lane.upper_s ?? ""}
      data-lower-used={lane.lower_used_s ?? ""}
      data-upper-used={lane.upper_used_s ?? ""}
    >
      <text
        x={narrow ? left : left - 12}
        y={narrow ? y + 16 : middle - (compact ? -4 : 3)}
        textAnchor={narrow ? "start" : "end"}
        fontWeight={600}
      >
        {lane.name || name}
        {narrow && <tspan className="soft" fontWeight={400}>{`  ${said}`}</tspan>}
      </text>
      {!narrow && !compact && (
        <text className="soft" x={left - 12} y={middle + 14} textAnchor="end">
          {said}
        </text>
      )}
      {!beyondOnly && barHigh > barLow && (
        <rect
          className={hollow ? "lane-bar hollow" : "lane-bar"}
          data-part="bar"
          x={barLow}
          y={middle - 9}
          width={barHigh - barLow}
          height={18}
          rx={3}
        />
      )}
      <End
        side="lower"
        value={lane.lower_s}
        used={lane.lower_used_s}
        interval={lane.lower_ci_s}
        found={lane.found.lower}
        sets={sets.lower}
        {...{ axis, middle, inside, left, right, borders }}
        mark={mark === null ? null : axis(mark)}
      />
      <End
        side="upper"
        value={lane.upper_s}
        used={lane.upper_used_s}
        interval={lane.upper_ci_s}
        found={lane.found.upper}
        sets={sets.upper}
        {...{ axis, middle, inside, left, right, borders }}
        mark={mark === null ? null : axis(mark)}
      />
      {binds && (
        <text
          className="binds"
          x={boundAbove ? bindsAt : barHigh - 8}
          y={middle + 5}
          textAnchor={boundAbove ? "start" : "end"}
        >
          binds {chance(lane.binding ?? 0)}
        </text>
      )}
      {notFound && lane.bracket_s && <Bracket bracket={lane.bracket_s} {...{ axis, middle, inside }} />}
      {lane.beyond && (
        <text
          className="beyond"
          data-part="beyond"
          x={beyondAt}
          y={middle + 5}
          textAnchor={lane.beyond === "longer" ? "end" : "start"}
        >
          {lane.beyond === "longer"
            ? "limit lies beyond what was printed: use longer exposures ▶"
            : "◀ limit lies beyond what was printed: use shorter exposures"}
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
          <title>Nominal size: {threeDigits(mark)} s</title>
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
  found: boolean;
  sets: boolean;
  axis: Axis;
  middle: number;
  inside: (x: number) => number;
  left: number;
  right: number;
  /** Where the lane's own mark stands, which no number may cover. */
  mark: number | null;
  borders: number[];
};

/** One end of a lane with its interval. An end off the ladder, or not known well enough, is drawn dashed. */
function End(props: EndProps) {
  const { side, value, used, interval, found, sets, axis, middle, inside, left, right, mark, borders } = props;
  if (used === null) return null;
  const clipped = value === null || Math.abs(value - used) > 1e-9 * used || !found;
  const x = inside(axis(value ?? used));
  const whisker = interval && ([inside(axis(interval[0])), inside(axis(interval[1]))] as const);
  const outer = whisker ? (side === "lower" ? Math.min(whisker[0], x) : Math.max(whisker[1], x)) : x;
  const label = value === null ? null : threeDigits(value);
  const place = beside(borders, unlessMarked(mark, labelPlace(side, x, outer, whisker, left, right)));
  return (
    <g data-end={side} data-found={found} data-clipped={clipped}>
      {whisker && whisker[1] > whisker[0] && (
        <rect
          className="uncertainty"
          data-part="whisker"
          data-from={interval[0]}
          data-to={interval[1]}
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
      {label && place && (
        <text className="end-label" x={place[0]} y={middle + 5} textAnchor={place[1]}>
          {label}
        </text>
      )}
    </g>
  );
}

const LABEL_ROOM = 46;

/** The place, unless the lane's mark stands in it: beyond the mark the number would be taken for the mark's. */
function unlessMarked(mark: number | null, [x, anchor]: Place): Place | null {
  if (mark === null) return [x, anchor];
  const [from, to] = anchor === "start" ? [x - 8, x + LABEL_ROOM] : [x - LABEL_ROOM, x + 8];
  return mark > from && mark < to ? null : [x, anchor];
}

type Place = [x: number, anchor: "start" | "end"];

/** The place, moved on until no border runs through it. */
function beside(borders: number[], place: Place | null): Place | null {
  if (!place) return null;
  const [x, anchor] = place;
  const away = anchor === "start" ? 1 : -1;
  const ahead = borders.map((border) => (border - x) * away).find((room) => room > -4 && room < LABEL_ROOM - 4);
  return ahead === undefined ? place : beside(borders, [x + away * (ahead + 7), anchor]);
}

/** Where an end's number stands: outside its uncertainty, else inside it, else wherever it fits. */
function labelPlace(
  side: "lower" | "upper",
  x: number,
  outer: number,
  whisker: readonly [number, number] | null,
  left: number,
  right: number,
): Place {
  const lower = side === "lower";
  if (lower ? outer - left > LABEL_ROOM : right - outer > LABEL_ROOM)
    return lower ? [outer - 7, "end"] : [outer + 7, "start"];
  const inner = lower ? Math.max(x, whisker?.[1] ?? x) : Math.min(x, whisker?.[0] ?? x);
  if (lower ? right - inner > LABEL_ROOM : inner - left > LABEL_ROOM)
    return lower ? [inner + 7, "start"] : [inner - 7, "end"];
  return right - x > LABEL_ROOM ? [x + 6, "start"] : [x - 6, "end"];
}

function Bracket({
  bracket,
  axis,
  middle,
  inside,
}: {
  bracket: [number | null, number | null];
  axis: Axis;
  middle: number;
  inside: (x: number) => number;
}) {
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
