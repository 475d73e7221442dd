/** Shape, word and colour together: a verdict or a state is never told by colour alone. */
type Mark = { word: string; color: string; path: string; hollow?: boolean };

const UNDER = "M1 2.5h12L7 13z";
const OVER = "M1 11.5h12L7 1z";
const SQUARE = "M2 2h10v10H2z";
const DIAMOND = "M7 .5 13.5 7 7 13.5.5 7z";
const CIRCLE = "M7 1.5a5.5 5.5 0 1 1 0 11 5.5 5.5 0 0 1 0-11z";

const HALF = "M7 1a6 6 0 0 1 0 12z M7 1a6 6 0 0 0 0 12v-1.6a4.4 4.4 0 0 1 0-8.8z";
const CROSS = "M2 3.4 3.4 2 7 5.6 10.6 2 12 3.4 8.4 7 12 10.6 10.6 12 7 8.4 3.4 12 2 10.6 5.6 7z";

const UNJUDGED: Mark = { word: "not judged", color: "var(--ink-soft)", path: CIRCLE, hollow: true };

export const MARKS: Record<string, Mark> = {
  under: { word: "under", color: "var(--under)", path: UNDER },
  ok: { word: "within limits", color: "var(--violet)", path: SQUARE },
  over: { word: "over", color: "var(--over)", path: OVER },
  mixed: { word: "mixed", color: "var(--caution)", path: DIAMOND },
  unjudged: UNJUDGED,
  planned: { word: "to print", color: "var(--ink-soft)", path: CIRCLE, hollow: true },
  printed: { word: "to read", color: "var(--violet)", path: CIRCLE, hollow: true },
  "left out": { word: "left out", color: "var(--ink-soft)", path: DIAMOND, hollow: true },
  issued: { word: "issued", color: "var(--violet)", path: SQUARE },
  due: { word: "due", color: "var(--caution)", path: HALF },
  lapsed: { word: "lapsed", color: "var(--bad)", path: CROSS },
  predicted: { word: "estimate", color: "var(--ink-soft)", path: CIRCLE, hollow: true },
  "in use": { word: "in use, not shown", color: "var(--ink-soft)", path: SQUARE, hollow: true },
  superseded: { word: "superseded", color: "var(--ink-soft)", path: DIAMOND, hollow: true },
  withdrawn: { word: "withdrawn", color: "var(--ink-soft)", path: CROSS },
  calibrating: { word: "calibrating", color: "var(--violet)", path: CIRCLE, hollow: true },
  qualified: { word: "qualified", color: "var(--good)", path: SQUARE },
  conditional: { word: "conditional", color: "var(--caution)", path: HALF },
  "not qualified": { word: "not qualified", color: "var(--bad)", path: OVER },
  met: { word: "met", color: "var(--good)", path: SQUARE },
  "not met": { word: "not met", color: "var(--bad)", path: OVER },
  "not shown": { word: "not shown", color: "var(--caution)", path: CIRCLE, hollow: true },
  closed: { word: "closed", color: "var(--ink-soft)", path: DIAMOND, hollow: true },
};

export const markFor = (name: string): Mark => MARKS[name] ?? UNJUDGED;

export function markOf(card: { verdict: string | null; status: string; left_out: boolean }): string {
  if (card.left_out) return "left out";
  if (card.status !== "read") return card.status;
  return card.verdict ?? "unjudged";
}

export function MarkShape({ name, size = 14 }: { name: string; size?: number }) {
  const mark = markFor(name);
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" aria-hidden="true" style={{ flex: "none" }}>
      <path
        d={mark.path}
        fill={mark.hollow ? "none" : mark.color}
        stroke={mark.color}
        strokeWidth={mark.hollow ? 1.8 : 0}
        strokeDasharray={name === "left out" || name === "planned" || name === "predicted" ? "2.4 1.8" : undefined}
      />
    </svg>
  );
}

export function StateMark({ name, word }: { name: string; word?: string }) {
  const mark = markFor(name);
  return (
    <span
      className="d-inline-flex align-items-center gap-1 fw-semibold text-nowrap"
      style={{ color: mark.color, fontSize: "0.9375rem" }}
    >
      <MarkShape name={name} />
      <span className="state-word">{word ?? mark.word}</span>
    </span>
  );
}
