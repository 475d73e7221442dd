import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { day, moment, plural } from "../../shared/format";
import { writtenDay } from "../../shared/labForm";
import { useWidth } from "../../shared/useWidth";
import { useNavigate } from "react-router";
import { OUTCOME_MARKS } from "./OutcomeMark";
import type { LogFilters } from "./useLogFilters";

const DAY_MS = 86_400_000;
const [ROW, FOOT, HEAD, MOST] = [14, 34, 18, 8];
const MARKS = OUTCOME_MARKS;
const WORDS = { whole: "whole", "missing parts": "missing parts", failed: "failed" } as const;
type Shown = keyof typeof MARKS;

/** Eight weeks of prints: each a mark on its day, by how it came out. */
export function LogDays({ filters }: { filters: LogFilters }) {
  const log = useGet("/api/print-days", { params: { query: filters } }, { placeholderData: (before) => before }).data;
  return log?.first_day && log.prints.length ? <Days log={log} first={Date.parse(log.first_day)} /> : null;
}

function Days({ log, first }: { log: Schemas["DaysOfLog"]; first: number }) {
  const navigate = useNavigate();
  const [figure, width] = useWidth<HTMLElement>(900);
  const byDay = new Map<number, typeof log.prints>();
  for (const one of log.prints) {
    const at = Math.floor((Date.parse(one.printed_at) - first) / DAY_MS);
    byDay.set(at, [...(byDay.get(at) ?? []), one]);
  }
  const tallest = Math.min(Math.max(...[...byDay.values()].map((prints) => prints.length)), MOST);
  // A phone has room for three weeks.
  const shownDays = width < 560 ? 21 : log.days;
  const step = width / shownDays;
  const skipped = log.days - shownDays;
  const height = HEAD + tallest * ROW + FOOT;
  const date = (at: number) => new Date(first + at * DAY_MS);
  return (
    <figure className="panel log-days" ref={figure} aria-label="Prints by day">
      <svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`Prints of ${day(date(skipped).toISOString())} to ${day(date(log.days - 1).toISOString())}: ${summary(log.prints)}`}
      >
        {Array.from({ length: shownDays }, (_, at) => at + skipped).map((at) => (
          <g key={at} transform={`translate(${(at - skipped) * step} 0)`}>
            {date(at).getUTCDay() === 1 && (
              <>
                <line className="week" x1={0} x2={0} y1={0} y2={height - FOOT + 6} />
                <text className="date" x={3} y={height - 6}>
                  {writtenDay(date(at), false)}
                </text>
              </>
            )}
            {(byDay.get(at) ?? [])
              .slice(0, MOST)
              .reverse()
              .map((one, level) => (
                <text
                  key={one.id}
                  className={`outcome ${one.outcome ?? "unknown"}`}
                  role="link"
                  onClick={() => void navigate(`/log/${one.code}`)}
                  x={step / 2}
                  y={height - FOOT - level * ROW}
                  textAnchor="middle"
                >
                  {MARKS[one.outcome as Shown] ?? "□"}
                  <title>
                    {one.code} on {one.printer}, {moment(one.printed_at)}: {one.outcome ?? "outcome not noted"}
                  </title>
                </text>
              ))}
            {(byDay.get(at)?.length ?? 0) > MOST && (
              <text className="date" x={step / 2} y={HEAD - 6} textAnchor="middle">
                {more(step, (byDay.get(at)?.length ?? 0) - MOST)}
              </text>
            )}
          </g>
        ))}
        <line className="floor" x1={0} x2={width} y1={height - FOOT + 4} y2={height - FOOT + 4} />
      </svg>
      <figcaption className="small text-secondary">
        {(Object.keys(MARKS) as Shown[]).map((outcome) => (
          <span key={outcome} className="me-3">
            <span className={`outcome ${outcome}`}>{MARKS[outcome]}</span> {WORDS[outcome]}
          </span>
        ))}
        {log.more && <span>More prints than are drawn: narrow them down.</span>}
      </figcaption>
    </figure>
  );
}

/** How many prints of a day are not drawn; where there is no room for the number, that there are some. */
const more = (step: number, count: number) => (step >= 8 * String(count).length + 10 ? `+${count}` : "+");

function summary(prints: { outcome: string | null }[]): string {
  const counts = (Object.keys(MARKS) as Shown[]).map(
    (outcome) => `${prints.filter((one) => one.outcome === outcome).length} ${WORDS[outcome]}`,
  );
  return `${plural(prints.length, "print")}, ${counts.join(", ")}`;
}
