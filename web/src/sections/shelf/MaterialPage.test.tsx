import { screen, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, show } from "../../testingTools";
import MaterialPage from "./MaterialPage";

const effect = (changes: object = {}) => ({
  percent_per_c: -2.31,
  percent_per_c_ci: [-2.9, -1.7],
  exposure_s: null,
  exposure_ci_s: null,
  fitted_range_c: [20, 28],
  n: 3,
  warnings: [],
  ...changes,
});
const page = (changes: object = {}) => ({
  name: "Hullform",
  maker: "Foreshore Polymers",
  line: "Hullform",
  family: "clear",
  opacity: "clear",
  colour: "",
  sets: [],
  axis_s: null,
  events: [],
  campaigns: [],
  prints: [],
  curve: { penetration_depth_mm: null, squares: 0 },
  temperature: null,
  temperature_missing: "One set says nothing of temperature.",
  bottles: [],
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/properties": { columns: [], materials: [] }, "GET /api/blends": { items: [] } });
});
async function shown(held: object = {}) {
  api.answers["GET /api/materials/m/page"] = page(held);
  const drawn = show(
    <Routes>
      <Route path="/materials/:id" element={<MaterialPage />} />
    </Routes>,
    { at: "/materials/m" },
  );
  await screen.findByRole("heading", { name: "Hullform" });
  return drawn;
}
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");

test("a material nothing is known of says what is missing and where it comes from", async () => {
  await shown();
  expect(text("Depth and temperature")).toContain("No depth squares yet");
  expect(text("Depth and temperature")).toContain("One set says nothing of temperature.");
  expect(text("Bottles")).toContain("None on the shelf.");
  expect(text("Tests")).toContain("Nothing was tested yet.");
  expect(screen.getByRole("link", { name: "Calibrate" }).getAttribute("href")).toBe("/calibrate/new?material=m");
});

test("what is the same twice is said once in its head", async () => {
  await shown();
  expect(screen.getByText("Foreshore Polymers · Hullform · clear")).toBeTruthy();
});

test("depth and temperature come with their evidence and their uncertainty", async () => {
  await shown({
    curve: { penetration_depth_mm: 0.1836, squares: 12 },
    temperature: effect({ warnings: [{ code: "few", message: "Three sets are few." }] }),
  });
  expect(text("Depth and temperature")).toContain("Penetration depth 184 µm, from 12 squares.");
  expect(text("Depth and temperature")).toContain(
    "2.3 % less exposure per °C warmer (1.7 to 2.9 %), from 3 sets between 20 and 28 °C. Three sets are few.",
  );
});

test("tests stand with their count and lead to where they were made; none broke is a result", async () => {
  const cell = (value: number | null, tried: string | null, test_code: string) => ({
    value,
    decimals: 1,
    n: 6,
    tried,
    test_code,
  });
  api.answers["GET /api/properties"] = {
    columns: [
      { key: "bend", name: "Bending strength", unit: "MPa" },
      { key: "drop", name: "Median drop height", unit: "m" },
    ],
    materials: [{ cells: { bend: cell(59.04, null, "T-001"), drop: cell(null, "1.5 m", "T-003") } }],
  };
  await shown();
  const lines = within(await screen.findByRole("region", { name: "Tests" })).findAllByRole("listitem");
  expect((await lines).map((one) => one.textContent.replace(/\s/g, " "))).toEqual([
    "Bending strength: 59.0 MPa n = 6, T-001",
    "Median drop height: none broke n = 6, at 1.5 m, T-003",
  ]);
  expect(screen.getByRole("link", { name: "T-003" }).getAttribute("href")).toBe("/test/T-003");
});

test("recipes it is in are named", async () => {
  api.answers["GET /api/blends"] = {
    items: [
      { id: "x", name: "Tough 12" },
      { id: "y", name: "Tough 18" },
    ],
  };
  await shown();
  expect((await screen.findByRole("link", { name: "Tough 18" })).getAttribute("href")).toBe("/blend/recipes/y");
  expect(text("Tests")).toContain("Is in Tough 12, Tough 18.");
});

test("its last calibrations and prints lead to all of them", async () => {
  const calibration = {
    id: "c",
    code: "C-007",
    material: "Hullform",
    printer: "Gannet",
    layer_height_um: 50,
    opened_at: "2026-01-20T09:00:00Z",
    closed_at: null,
    set_code: null,
    squares: 0,
  };
  const print = {
    id: "j",
    code: "J-009",
    printer: "Gannet",
    set_code: null,
    printed_at: "2026-01-21T09:00:00Z",
    temp_c: null,
    outcome: "whole",
    seen: "",
  };
  await shown({ campaigns: [calibration], prints: [print] });
  const address = (name: string) => screen.getByRole("link", { name }).getAttribute("href");
  expect(address("All calibrations")).toBe("/lab/activity?kind=calibration&material=m");
  expect(address("All prints")).toBe("/log?material=m");
});
