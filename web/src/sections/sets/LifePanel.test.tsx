import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import { LifePanel } from "./LifePanel";

const cause = (changes: object = {}) => ({
  rule: "screen-replaced",
  name: "Screen replaced",
  at: "2026-01-20T09:00:00Z",
  detail: "On Gannet.",
  why: "Another screen gives other light.",
  renewed_by: ["check"],
  ...changes,
});
const life = (changes: object = {}) => ({
  newest: true,
  validity: { state: "valid", causes: [], renewed_at: null, by_check: true },
  checks: [],
  waiting: [],
  cost: { duration_s: 420, volume_ml: 1.2 },
  re_range: { material_id: "m", printer_id: "r", layer_height_um: 50, low_s: 2, high_s: 4, exposures_s: [2, 2.8, 4] },
  ...changes,
});
const lapsed = (changes: object = {}) =>
  life({ validity: { state: "lapsed", causes: [cause()], renewed_at: null, by_check: true }, ...changes });
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/how-warm": { now: null, last: null }, "GET /api/band": { side: null } });
});
const shown = (held: object) => {
  api.answers["GET /api/sets/S-001/life"] = held;
  return show(<LifePanel code="S-001" />);
};

test("a set that holds says so, and offers its check coupon with what it costs", async () => {
  api.answers["POST /api/sets/S-001/check"] = { coupon: "173R", print_id: "p" };
  const { user } = shown(life());
  expect(await screen.findByText("it holds")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: /^Print a check coupon · 7.min · 1\.2.ml$/ }));
  expect(await screen.findByText("Check coupon 173R is planned.")).toBeTruthy();
  expect(screen.queryByRole("link", { name: /^Recalibrate/ })).toBeNull();
});

test("a lapsed set says why, and how it is found again, filled in", async () => {
  shown(lapsed());
  const line = await screen.findByText("Screen replaced");
  expect(line.closest("li")!.textContent).toContain("On Gannet. Another screen gives other light.");
  expect(screen.getByRole("link", { name: /^Recalibrate: 2, 2\.8, 4/ }).getAttribute("href")).toBe(
    "/calibrate/new?material=m&printer=r&height=50&low=2&high=4",
  );
});

test("what no check coupon can renew is not offered one", async () => {
  shown(
    lapsed({ validity: { state: "lapsed", causes: [cause({ renewed_by: [] })], renewed_at: null, by_check: false } }),
  );
  expect(await screen.findByText(/Only a new calibration renews it/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: /^Print a check coupon/ })).toBeNull();
  expect(screen.getByRole("link", { name: /^Recalibrate/ }).className).toContain("btn-primary");
});

test("check coupons before are listed with their dose and what they were judged by", async () => {
  shown(
    life({
      checks: [
        { coupon: "171N", passed: true, verdict: "ok", judged_by: "", off_pct: -3.4 },
        { coupon: "173R", passed: false, verdict: "under", judged_by: "its dose", off_pct: null },
      ],
    }),
  );
  const text = (await screen.findByText(/^Check coupons:/)).textContent.replace(/\s/g, " ");
  expect(text).toContain("171N ■ within limits (dose −3 %)");
  expect(text).toContain("173R ✕ under by its dose");
});

test("a check coupon on its way is printed here, with its temperature, and then read", async () => {
  api.answers["GET /api/coupons/173R"] = { code: "173R", status: "planned", print_id: "p" };
  api.answers["POST /api/prints/p/printed"] = new Refusal(409, "Outside its band.", {
    outside_band: "Say why it goes on.",
  });
  const { user } = shown(lapsed({ waiting: ["173R"] }));
  await user.type(await screen.findByLabelText("Temperature at start"), "23");
  await user.click(screen.getByRole("button", { name: "Mark 173R as printed" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/prints/p/printed")[0]?.body).toMatchObject({
      temp_c: 23,
      temp_place: "room",
      outcome: "whole",
    }),
  );
  api.answers["POST /api/prints/p/printed"] = {};
  api.answers["GET /api/coupons/173R"] = { code: "173R", status: "printed", print_id: "p" };
  await user.click(screen.getByRole("button", { name: "Mark 173R as printed" }));
  expect((await screen.findByRole("link", { name: "Read 173R" })).getAttribute("href")).toBe("/coupons/173R");
});

test("a set that was followed by another has no life of its own", async () => {
  const { container } = shown(life({ newest: false }));
  await waitFor(() => expect(api.sent).toHaveLength(1));
  expect(container.querySelector(".life")).toBeNull();
});
