/** A reading while it is being entered: which feature is in which state, kept until it is saved. */
import type { Schemas } from "../../shared/api/client";
import type { FeatureState, Plan, PlanFeature, States } from "../../shared/coupon/CouponDrawing";

export type Mode = "series" | "single" | "strike";
export type Draft = {
  states: States;
  measured: Record<string, number | null>;
  damaged: boolean;
  unwashed: boolean;
  uncured: boolean;
  note: string;
  reason: string;
  /** The picture this reading is confirmed from. */
  pictureId: string | null;
};

export type Row = { key: string; kind: "wall" | "slot" | "tip"; side: string; features: PlanFeature[] };

const COUNTED = ["wall", "slot", "tip"];
const SEEN = ["vernier", "fit", "taper", "legible"];
export const isCounted = (feature: PlanFeature): boolean => COUNTED.includes(feature.kind);
/** Looked at, neither counted nor measured: the vernier, the taper plug or gauge piece, the code in falling size. */
export const isSeen = (feature: PlanFeature): boolean => SEEN.includes(feature.kind);

export function emptyDraft(): Draft {
  return {
    states: {},
    measured: {},
    damaged: false,
    unwashed: false,
    uncured: false,
    note: "",
    reason: "",
    pictureId: null,
  };
}

export function draftOf(reading: Schemas["ReadingView"] | null): Draft {
  const draft = emptyDraft();
  if (!reading) return draft;
  for (const feature of reading.features) {
    if (feature.state) draft.states[feature.feature_key] = feature.state;
    if (feature.measured_mm !== null) draft.measured[feature.feature_key] = feature.measured_mm;
  }
  return {
    ...draft,
    damaged: reading.damaged,
    unwashed: reading.unwashed,
    uncured: reading.uncured,
    note: reading.note,
  };
}

/** Counted features by kind and side, each row from small to large. */
export function rowsOf(plan: Plan): Row[] {
  const rows = new Map<string, Row>();
  for (const feature of plan.features) {
    if (!isCounted(feature)) continue;
    const key = `${feature.kind} ${feature.side}`;
    const row = rows.get(key) ?? { key, kind: feature.kind as Row["kind"], side: feature.side ?? "", features: [] };
    row.features.push(feature);
    rows.set(key, row);
  }
  return [...rows.values()].map((row) => ({ ...row, features: row.features.sort((a, b) => a.size_mm - b.size_mm) }));
}

/** What a tap means. Series: this is the smallest one that formed; tapped again, the next larger one is. */
export function tap(draft: Draft, plan: Plan, feature: PlanFeature, mode: Mode): Draft {
  const state = draft.states[feature.key];
  if (mode === "strike") return withState(draft, feature.key, state === "lost" ? undefined : "lost");
  if (isSeen(feature)) return seen(draft, plan, feature);
  if (!isCounted(feature)) return draft;
  if (mode === "single" || feature.kind === "tip") {
    const next: Record<string, FeatureState | undefined> = {
      formed: "absent",
      absent: "partial",
      partial: undefined,
      lost: undefined,
    };
    return withState(draft, feature.key, state ? next[state] : "formed");
  }
  const row = rowsOf(plan).find((one) => one.features.includes(feature));
  if (!row) return draft;
  const index = row.features.indexOf(feature);
  const smaller = row.features.slice(0, index).filter((one) => draft.states[one.key] !== "lost");
  const again = state === "formed" && smaller.every((one) => draft.states[one.key] === "absent");
  return count(draft, row, row.features.length - index - (again ? 1 : 0));
}

/** One vernier pair just touches, the plug stops at one step; codes are read down to the one tapped; the gauge piece goes, sticks, does not go. */
export function seen(draft: Draft, plan: Plan, feature: PlanFeature): Draft {
  const states = { ...draft.states };
  const again = states[feature.key] === "formed";
  if (feature.kind === "fit") {
    const next: Record<string, FeatureState | undefined> = { formed: "partial", partial: "absent", absent: undefined };
    const before = states[feature.key];
    states[feature.key] = before ? next[before] : "formed";
    return { ...draft, states };
  }
  const kin = plan.features.filter((one) => one.kind === feature.kind);
  for (const one of kin) {
    if (feature.kind === "vernier" || feature.kind === "taper")
      states[one.key] = one === feature && !again ? "formed" : undefined;
    else states[one.key] = one.size_mm >= feature.size_mm - 1e-9 ? "formed" : "absent";
  }
  return { ...draft, states };
}

/** The `formed` largest of a row formed, the rest not; what was struck out stays struck out. */
export function count(draft: Draft, row: Row, formed: number): Draft {
  const states = { ...draft.states };
  row.features.forEach((feature, index) => {
    if (states[feature.key] !== "lost")
      states[feature.key] = index >= row.features.length - formed ? "formed" : "absent";
  });
  return { ...draft, states };
}

/** How many of a row formed, or null while none is read. */
export function counted(draft: Draft, row: Row): number | null {
  const seen = row.features.filter((feature) => draft.states[feature.key] !== undefined);
  return seen.length ? seen.filter((feature) => draft.states[feature.key] === "formed").length : null;
}

/** A bar that washed away has no size; that is evidence, and not the same as a bar nobody measured. */
export function washed(draft: Draft, key: string, gone: boolean): Draft {
  return withState(draft, key, gone ? "absent" : undefined);
}

function withState(draft: Draft, key: string, state: FeatureState | undefined): Draft {
  const states = { ...draft.states, [key]: state };
  const measured = state === "lost" || state === "absent" ? { ...draft.measured, [key]: null } : draft.measured;
  return { ...draft, states, measured };
}

export function toInput(draft: Draft, plan: Plan, supersedes: string | null): Schemas["ReadingInput"] {
  const features = plan.features
    .map((feature) => ({
      key: feature.key,
      state: draft.states[feature.key] ?? null,
      measured_mm: ["lost", "absent"].includes(draft.states[feature.key] ?? "")
        ? null
        : (draft.measured[feature.key] ?? null),
    }))
    .filter((feature) => feature.state !== null || feature.measured_mm !== null);
  return {
    supersedes_id: supersedes,
    reason: supersedes ? draft.reason || null : null,
    damaged: draft.damaged,
    unwashed: draft.unwashed,
    uncured: draft.uncured,
    note: draft.note,
    features,
    picture_id: draft.pictureId,
  };
}

/** The draft with what somebody else saw, for example the simulated reader. */
export function withFeatures(
  draft: Draft,
  features: { key: string; state?: FeatureState | null; measured_mm?: number | null }[],
): Draft {
  const states: States = {};
  const measured: Record<string, number | null> = {};
  for (const { key, state, measured_mm } of features) {
    if (state) states[key] = state;
    if (measured_mm !== null && measured_mm !== undefined) measured[key] = measured_mm;
  }
  return { ...draft, states, measured };
}
