import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import PrinterPage from "./PrinterPage";

const check = (coupon: string, off_pct: number | null, screen_hours: number) => ({
  coupon,
  off_pct,
  screen_hours,
  at: "2026-01-10T09:00:00Z",
  set_code: "S-003",
  passed: true,
});
const CHECKS = [check("171P", 3, 2000), check("172Q", null, 2100), check("173R", -10, 2900)];
const drift = (changes: object = {}) => ({
  shown: true,
  per_100_hours: -1.36,
  leaves_at_hours: 3378,
  leaves_from_hours: 3254,
  ...changes,
});
const limits = (changes: object = {}) => ({
  centre: 0,
  lower: -8,
  upper: 5,
  sd: 2,
  outside: [],
  runs: [],
  alarms: [],
  warnings: [],
  drift: null,
  ...changes,
});
const chart = (changes: object = {}) => ({
  checks: [],
  enough: 8,
  chart: null,
  window_of: "S-003",
  window_lower_pct: -12,
  window_upper_pct: 12,
  ...changes,
});
const page = (changes: object = {}) => ({
  printer: { id: "p", name: "Gannet", light_engine: "colour screen", pixel_um: 47, screen_hours: 2900.4 },
  sets: [],
  axis_s: null,
  events: [],
  campaigns: [],
  prints: [],
  chart: chart(),
  map_at: null,
  map_source: null,
  defects: [],
  ...changes,
});
const rule = {
  key: "hours",
  name: "Many screen hours",
  why: "Screens fade.",
  effect: "due",
  renewed_by: ["check", "calibration"],
  limit: 500,
  unit: "h",
};
const lapse = {
  ...rule,
  key: "screen",
  name: "New screen",
  why: "Another light.",
  effect: "lapse",
  renewed_by: ["calibration"],
  limit: null,
};
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  wide();
  api = fakeApi({ "GET /api/validity-rules": { rules: [rule, lapse], own: [] } });
});
async function shown(held: object = {}) {
  api.answers["GET /api/printers/p/page"] = page(held);
  const drawn = show(
    <Routes>
      <Route path="/printers/:id" element={<PrinterPage />} />
    </Routes>,
    { at: "/printers/p" },
  );
  await screen.findByRole("heading", { name: "Gannet" });
  return drawn;
}
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");

test("a new printer says what would be seen here and how to get there", async () => {
  await shown();
  expect(screen.getByText("colour screen · 47 µm · 2,900 screen hours")).toBeTruthy();
  expect(text("Control chart")).toContain("from 8 on there is a chart");
  expect(text("Plate")).toContain("No light map yet. No known marks.");
  expect(screen.getByRole("link", { name: "Plate" }).getAttribute("href")).toBe("/shelf/printers/p/plate");
  expect(screen.getByRole("link", { name: "Vat" }).getAttribute("href")).toBe("/blend/vat/p");
});

test("few checks are drawn without limits, and say how many limits want", async () => {
  await shown({ chart: chart({ checks: CHECKS }) });
  expect(text("Control chart")).toContain("3 check coupons so far; from 8 on limits are drawn.");
});

test("drift is told with when it leaves the window, and with its earliest hour", async () => {
  await shown({ chart: chart({ checks: CHECKS, chart: limits({ drift: drift() }) }) });
  expect(text("Control chart")).toContain(
    "Drifts by −1.4 % of the dose per hundred hours. Leaves the window of S-003 at about 3,400 h, from 3,250 h on at the earliest.",
  );
});

test("no drift is a finding too", async () => {
  await shown({ chart: chart({ checks: CHECKS, chart: limits({ drift: drift({ shown: false }) }) }) });
  expect(text("Control chart")).toContain("No drift is shown so far.");
});

test("checks outside the limits are named by their coupons, counted among those that were measured", async () => {
  await shown({
    chart: chart({
      checks: CHECKS,
      chart: limits({
        outside: [1],
        runs: [[0, 8]],
        alarms: [
          { index: 1, kind: "one value" },
          { index: 2, kind: "lasting change" },
        ],
        warnings: [{ code: "loose", message: "Limits are still loose." }],
      }),
    }),
  });
  expect(text("Control chart")).toContain("1 check coupon stands apart from those before: 173R.");
  expect(text("Control chart")).toContain("Something has shifted, and it shows since ");
  expect(text("Control chart")).toContain("Limits are still loose.");
});

test("the light map and the known marks are told with their source", async () => {
  await shown({
    map_at: "2026-01-14T09:00:00Z",
    map_source: "light meter",
    defects: [{ note: "Scratch" }, { note: "Dead pixel" }],
  });
  expect(text("Plate")).toContain("Light map by light meter, 14 Jan 2026. 2 known marks: Scratch; Dead pixel.");
});

test("the rules say what they do by word, and by what a set comes back", async () => {
  await shown();
  const table = await screen.findByRole("table", { name: "Rules" });
  const rows = within(table)
    .getAllByRole("row")
    .slice(1)
    .map((row) => row.textContent.replace(/\s/g, " "));
  expect(rows[0]).toContain("Many screen hours");
  expect(rows[0]).toContain("check coupon or calibration");
  expect(rows[1]).toContain("lapsed");
  expect(within(table).getAllByRole("textbox")).toHaveLength(1);
});

test("a shop sets its own limit, can undo it, and is told where it is refused", async () => {
  api.answers["PUT /api/validity-rules/hours/limit"] = { ...rule, limit: 300 };
  api.answers["POST /api/validity-rules/hours/forget"] = rule;
  const { user } = await shown();
  const field = await screen.findByLabelText("Limit of Many screen hours");
  expect(screen.queryByRole("button", { name: "Set" })).toBeNull();
  await user.clear(field);
  await user.type(field, "300");
  await user.click(screen.getByRole("button", { name: "Set" }));
  await screen.findByText("Many screen hours: from 300 h on.");
  expect(api.of("PUT", "/api/validity-rules/hours/limit")[0]!.body).toEqual({ limit: 300, was: 500 });
  await user.click(screen.getByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/validity-rules/hours/forget")).toHaveLength(1));
  api.answers["PUT /api/validity-rules/hours/limit"] = new Refusal(422, "Too many.", { limit: "Give at most 100000." });
  await user.clear(field);
  await user.type(field, "900000");
  await user.click(screen.getByRole("button", { name: "Set" }));
  expect(await screen.findByText("Give at most 100000.")).toBeTruthy();
});

test("an own limit can be given back for the one that ships", async () => {
  api.answers["GET /api/validity-rules"] = { rules: [{ ...rule, limit: 300 }], own: ["hours"] };
  api.answers["POST /api/validity-rules/hours/forget"] = rule;
  const { user } = await shown();
  await user.click(await screen.findByRole("button", { name: "As shipped" }));
  expect(await screen.findByText("Many screen hours: as it ships again.")).toBeTruthy();
});
