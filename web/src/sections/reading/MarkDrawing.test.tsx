import { render, screen } from "@testing-library/react";
import { expect, test } from "vitest";
import type { Plan, PlanFeature } from "../../shared/coupon/CouponDrawing";
import { emptyDraft } from "./draft";
import { MarkDrawing } from "./MarkDrawing";
import type { Marking } from "./marking";

const marking = { mode: "series", setMode: () => undefined, onTap: () => undefined, focus: null } as unknown as Marking;

function planOf(kind: PlanFeature["kind"]): Plan {
  const feature: PlanFeature = { key: kind, kind, size_mm: 0.3, hit: [1, 1, 1, 1], side: "left", axis: null };
  return {
    title: "Coupon",
    width_mm: 10,
    height_mm: 10,
    depth_mm: 1,
    features: [feature],
    shapes: [],
  } as unknown as Plan;
}

test.each([
  ["wall", /^Tap the thinnest wall that stands/],
  ["tip", /^Tap each tip: once for held, twice for let go/],
] as const)("what a tap means is said for what is on the coupon: a %s", (kind, words) => {
  render(<MarkDrawing plan={planOf(kind)} draft={emptyDraft()} marking={marking} code="104R" exposure="2.4 s" />);
  expect(screen.getAllByText(words)).toHaveLength(1);
});
