import { describe, expect, it } from "vitest";
import { exposureAxis, ticks } from "./axis";

describe("exposure axis", () => {
  it("is logarithmic: equal ratios take equal room", () => {
    const axis = exposureAxis(1, 16, 0, 400);
    expect(axis(4) - axis(2)).toBeCloseTo(axis(2) - axis(1), 6);
  });
  it("labels round times that do not crowd", () => {
    const axis = exposureAxis(1.1, 5.2, 0, 640);
    const labels = ticks(axis, 48);
    expect(labels).toContain(2);
    expect(labels.length).toBeGreaterThan(3);
    for (let i = 1; i < labels.length; i++) expect(axis(labels[i]!) - axis(labels[i - 1]!)).toBeGreaterThanOrEqual(48);
  });
});
