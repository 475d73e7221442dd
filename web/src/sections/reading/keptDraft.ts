/** A reading in progress survives reload, a closed tab and a restarted server; it is forgotten once saved. */
import { useState } from "react";
import { draftOf, type Draft } from "./draft";
import type { Coupon } from "./model";

type Kept = { draft: Draft; on: string | null };

const TAB = (() => {
  const held = sessionStorage.getItem("setback.tab") ?? crypto.randomUUID();
  sessionStorage.setItem("setback.tab", held);
  return held;
})();

export function useKeptDraft(coupon: Coupon): [Draft, (draft: Draft) => void, () => void] {
  const place = `setback.reading.${coupon.code}.`;
  const [draft, setDraft] = useState<Draft>(() => kept(place, coupon) ?? draftOf(coupon.reading));
  return [
    draft,
    (next) => {
      setDraft(next);
      const held: Kept = { draft: next, on: coupon.latest_id };
      localStorage.setItem(place + TAB, JSON.stringify(held));
    },
    () => localStorage.removeItem(place + TAB),
  ];
}

/** This tab's own draft; else one that another tab left behind, unless the coupon was read since. */
function kept(place: string, coupon: Coupon): Draft | null {
  const own = parsed(place + TAB);
  if (own) return own.draft;
  for (const key of Object.keys(localStorage)) {
    if (!key.startsWith(place)) continue;
    const left = parsed(key);
    if (left?.on === coupon.latest_id) return left.draft;
  }
  return null;
}

function parsed(key: string): Kept | null {
  try {
    const held = JSON.parse(localStorage.getItem(key) ?? "null") as Kept | null;
    return held?.draft ? held : null;
  } catch {
    return null;
  }
}
