export type Outcome = "whole" | "missing parts" | "failed";
/** Shape and word of each outcome; the colour comes with the class. */
export const OUTCOME_MARKS: Record<Outcome, string> = { whole: "■", "missing parts": "▲", failed: "✕" };

/** How a print came out: shape, word and colour together. */
export function OutcomeMark({ outcome }: { outcome: Outcome }) {
  return (
    <span className={outcome === "whole" ? "passed" : "found"}>
      {OUTCOME_MARKS[outcome]} {outcome}
    </span>
  );
}
