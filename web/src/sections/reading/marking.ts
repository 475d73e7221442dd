import { useEffect, useMemo, useRef, useState } from "react";
import { usePageKeys } from "../../app/shortcuts";
import type { Plan, PlanFeature } from "../../shared/coupon/CouponDrawing";
import { count, type Draft, isCounted, isSeen, type Mode, type Row, rowsOf, tap } from "./draft";

/** Marking a coupon: what a tap means, which field comes next, what cannot be right yet. */
export function useMarking(plan: Plan, draft: Draft, setDraft: (draft: Draft) => void) {
  const [mode, setMode] = useState<Mode>("series");
  const [bad, setBad] = useState<Record<string, string>>({});
  const [focus, setFocus] = useState<string | null>(null);
  const fields = useRef<Record<string, HTMLInputElement | null>>({});
  const saveButton = useRef<HTMLButtonElement>(null);
  const rows = useMemo(() => rowsOf(plan), [plan]);
  const calipers = useMemo(() => plan.features.filter((feature) => !isCounted(feature) && !isSeen(feature)), [plan]);
  const order = [...rows.map((row) => row.key), ...calipers.map((feature) => feature.key)];
  useEffect(() => {
    // On a phone a field in focus would cover the drawing with a keyboard.
    if (!window.matchMedia("(pointer: fine)").matches) return;
    const empty = order.find((key) => fields.current[key]?.value === "");
    if (empty) fields.current[empty]?.focus({ preventScroll: true });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the page opens
  }, []);
  usePageKeys([
    { keys: "Tab Enter", does: "next field" },
    { keys: "s", does: "tap series", run: () => setMode("series") },
    { keys: "o", does: "tap one by one", run: () => setMode("single") },
    { keys: "x", does: "strike out", run: () => setMode("strike") },
  ]);

  function note(key: string, problem: string | null) {
    setBad((all) => {
      const { [key]: _, ...rest } = all;
      return problem ? { ...rest, [key]: problem } : rest;
    });
  }
  return {
    mode,
    setMode,
    bad,
    note,
    focus,
    setFocus,
    fields,
    saveButton,
    rows,
    calipers,
    stop: Object.keys(bad).length > 0,
    onTap(feature: PlanFeature) {
      if (!isCounted(feature) && !isSeen(feature) && mode !== "strike") fields.current[feature.key]?.focus();
      else setDraft(tap(draft, plan, feature, mode));
    },
    onward(key: string) {
      const next = order[order.indexOf(key) + 1];
      if (next) fields.current[next]?.focus();
      else saveButton.current?.focus();
    },
    countRow(row: Row, value: number | null) {
      if (value === null) return;
      const most = row.features.length;
      const wrong = !Number.isInteger(value) || value < 0 || value > most;
      note(row.key, wrong ? `There are ${most}: give 0 to ${most}.` : null);
      if (!wrong) setDraft(count(draft, row, value));
    },
  };
}

export type Marking = ReturnType<typeof useMarking>;
