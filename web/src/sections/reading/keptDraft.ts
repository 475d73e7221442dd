/** A reading in progress survives reload, a closed tab and a restarted server; it is forgotten once saved. */
import type { Keeper } from "../../shared/useKept";
import type { Draft } from "./draft";
import type { Coupon } from "./model";

/** What was entered, after which reading it was begun, and when it was last changed. */
type Kept = { draft: Partial<Draft>; on: string | null; at?: string };

const TAB = (() => {
  const tab = sessionStorage.getItem("setback.tab") ?? crypto.randomUUID();
  sessionStorage.setItem("setback.tab", tab);
  return tab;
})();

export function keeperOf(coupon: Coupon): Keeper<Draft> & { begunAfter: string | null } {
  const place = `setback.reading.${coupon.code}.`;
  const before = keptIn(place, coupon);
  const begunAfter = before ? before.on : coupon.latest_id;
  return {
    begunAfter,
    read: () => keptIn(place, coupon)?.draft ?? null,
    keep(draft) {
      const at = new Date().toISOString();
      localStorage.setItem(place + TAB, JSON.stringify({ draft, on: begunAfter, at } satisfies Kept));
    },
    forget: () => localStorage.removeItem(place + TAB),
    at: () => keptIn(place, coupon)?.at ?? null,
  };
}

/** This tab's own draft; else one that another tab left behind, unless the coupon was read since. */
function keptIn(place: string, coupon: Coupon): Kept | null {
  const own = parsed(place + TAB);
  if (own) return own;
  for (const key of Object.keys(localStorage)) {
    if (!key.startsWith(place)) continue;
    const left = parsed(key);
    if (left?.on === coupon.latest_id) return left;
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
