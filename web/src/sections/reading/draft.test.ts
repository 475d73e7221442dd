import { describe, expect, it } from "vitest";
import type { Plan, PlanFeature } from "../../shared/coupon/CouponDrawing";
import { count, counted, emptyDraft, rowsOf, tap, toInput } from "./draft";

const wall = (n: number): PlanFeature => ({
  key: `wall-left-${n}`,
  kind: "wall",
  size_mm: n / 10,
  hit: [n, 0, 1, 1],
  side: "left",
  axis: null,
});
const plan = { features: [1, 2, 3, 4].map(wall) } as unknown as Plan;
const states = (draft: ReturnType<typeof emptyDraft>) => [1, 2, 3, 4].map((n) => draft.states[`wall-left-${n}`]);

describe("a tap on a series", () => {
  it("marks the thinnest that stands, all thicker, and none thinner", () => {
    expect(states(tap(emptyDraft(), plan, plan.features[1]!, "series"))).toEqual([
      "absent",
      "formed",
      "formed",
      "formed",
    ]);
  });
  it("tapped again, gives up that one", () => {
    const once = tap(emptyDraft(), plan, plan.features[3]!, "series");
    expect(states(tap(once, plan, plan.features[3]!, "series"))).toEqual(["absent", "absent", "absent", "absent"]);
  });
  it("leaves what was lost in handling out", () => {
    const struck = tap(emptyDraft(), plan, plan.features[2]!, "strike");
    const read = tap(struck, plan, plan.features[1]!, "series");
    expect(states(read)).toEqual(["absent", "formed", "lost", "formed"]);
    expect(counted(read, rowsOf(plan)[0]!)).toBe(2);
  });
});

it("a typed count takes the largest", () => {
  expect(states(count(emptyDraft(), rowsOf(plan)[0]!, 1))).toEqual(["absent", "absent", "absent", "formed"]);
});

it("one by one goes round: formed, absent, in part, not read", () => {
  let draft = emptyDraft();
  const seen = [1, 2, 3, 4].map(() => (draft = tap(draft, plan, plan.features[0]!, "single")).states["wall-left-1"]);
  expect(seen).toEqual(["formed", "absent", "partial", undefined]);
});

it("sends only what was read", () => {
  const draft = tap(emptyDraft(), plan, plan.features[0]!, "single");
  expect(toInput(draft, plan, null)).toMatchObject({
    reason: null,
    features: [{ key: "wall-left-1", state: "formed", measured_mm: null }],
  });
});
