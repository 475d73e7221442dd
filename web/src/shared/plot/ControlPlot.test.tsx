import { render, screen, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import type { Schemas } from "../api/client";
import { ControlPlot } from "./ControlPlot";

beforeEach(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe = () => undefined;
      disconnect = () => undefined;
    },
  );
});

const check = (coupon: string, off_pct: number | null, screen_hours: number | null, passed = true) => ({
  coupon,
  off_pct,
  screen_hours,
  passed,
  set_code: "S-001",
  material: "Slate 2",
  at: "2026-01-01T00:00:00Z",
  verdict: passed ? "ok" : "over",
  judged_by: "",
});
const view = (checks: object[], changes: object = {}) =>
  ({
    printer: "Gannet",
    checks,
    chart: {
      lower: -8,
      upper: 5,
      centre: -1,
      outside: [1],
      runs: [],
      alarms: [{ index: 1, kind: "one value" as const }],
      warnings: [],
      drift: { per_100_hours: -1.4, shown: true, leaves_at_hours: 3300, leaves_from_hours: 3200 },
    },
    lower_pct: -12,
    upper_pct: 20,
    window_of: "S-001",
    enough: 3,
    ...changes,
  }) as unknown as Schemas["ChartView"];

test("every check coupon with a dose is a point and a line of the table", () => {
  const { container } = render(
    <ControlPlot
      view={view([
        check("173R", 3.1, 1900),
        check("175Z", 4.9, 2010),
        check("177M", null, 2100),
        check("181P", -10.5, 2860, false),
      ])}
    />,
  );
  expect(container.querySelectorAll("circle")).toHaveLength(3);
  expect(container.querySelectorAll("circle.failed")).toHaveLength(1);
  const lines = within(screen.getByRole("table", { name: "Check coupons" })).getAllByRole("row");
  expect(lines.map((one) => one.textContent)).toEqual([
    "CouponScreen hoursOff",
    "173R1,900 h3.1 %",
    "175Z2,010 h4.9 %",
    "181P2,860 h−10.5 %",
  ]);
  expect(screen.getByRole("img", { name: /last −1[01] percent off/ })).toBeTruthy();
});

test("without hours everywhere it is drawn in order, and no drift is claimed", () => {
  const { container } = render(<ControlPlot view={view([check("173R", 3.1, null), check("175Z", 4.9, 2010)])} />);
  expect(container.textContent).toContain("check coupons in order");
  expect(container.querySelector(".drift")).toBeNull();
});

test("with nothing to draw it draws nothing", () => {
  expect(render(<ControlPlot view={view([check("173R", null, null)])} />).container.innerHTML).toBe("");
});
