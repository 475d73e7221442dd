/** A reading in progress survives reload, a closed tab and a restarted server; it is forgotten once saved. */
import type { Keeper } from "../../shared/useKept";
import type { Draft } from "./draft";
import type { Coupon } from "./model";

type Kept = { draft: Draft; on: string | null };

const TAB = (() => {
  const tab = sessionStorage.getItem("setback.tab") ?? crypto.randomUUID();
  sessionStorage.setItem("setback.tab", tab);
  return tab;
})();

export function keeperOf(coupon: Coupon): Keeper<Draft> {
  const place = `setback.reading.${coupon.code}.`;
  return {
    read: () => kept(place, coupon),
    keep: (draft) => localStorage.setItem(place + TAB, JSON.stringify({ draft, on: coupon.latest_id } satisfies Kept)),
    forget: () => localStorage.removeItem(place + TAB),
  };
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
    // What this app wrote itself; anything else has no draft.
    const read = JSON.parse(localStorage.getItem(key) ?? "null") as Kept | null;
    return read?.draft ? read : null;
  } catch {
    return null;
  }
}
