import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, show } from "../../testingTools";
import EvidencePage from "./EvidencePage";

let api: ReturnType<typeof fakeApi>;
const PAIR = {
  material_id: "m",
  material: "Slate 2",
  printer_id: "r",
  printer: "Cormorant",
  layer_height_um: 50,
  prints: 24,
};
const seen = (exposure_s: number, whole: number, under: number) => ({
  exposure_s,
  prints: 8,
  parts: whole + under,
  whole,
  under,
  over: 0,
  other: 0,
});
const success = (changes: object = {}) => ({
  seen: [seen(2.6, 30, 10), seen(3.4, 40, 0)],
  share: 0.875,
  curve: {
    exposure_s: [2.6, 3.0, 3.4],
    whole: [0.78, 0.9, 0.96],
    low: [0.6, 0.8, 0.88],
    high: [0.9, 0.95, 0.99],
    not_under: null,
    not_over: null,
  },
  exposure_for: { exposure_s: 3.3, ci_s: [3.0, null] },
  upper: null,
  advice: { from_s: 2.6, from_share: 0.78, to_s: 3.4, share: 0.92, ci: [0.84, 0.97] },
  effects: [
    { factor: "exposure", side: "under", per: "10 %", odds_ratio: 2, ci: [1.5, 3], shown: true },
    { factor: "temperature", side: "under", per: "1 °C", odds_ratio: 1.3, ci: [1.1, 1.6], shown: true },
    { factor: "rest", side: "under", per: "1 s", odds_ratio: 1.1, ci: [0.7, 1.6], shown: false },
  ],
  confounded: [{ factors: ["tip"], r: null }],
  warnings: [{ code: "no-upper", message: "No part failed for too much light: there is no upper end." }],
  ...changes,
});
const cells = Array.from({ length: 9 }, (_, at) => ({
  column: at % 3,
  row: Math.floor(at / 3),
  parts: 24,
  failed: at === 8 ? 11 : 1,
  expected: 2,
}));
const evidence = (changes: object = {}) => ({
  material: "Slate 2",
  printer: "Cormorant",
  prints: 24,
  success: success(),
  places: null,
  notices: [],
  ...changes,
});
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");

beforeEach(() => {
  api = fakeApi({
    "GET /api/printed-parts": { items: [PAIR] },
    "GET /api/materials/m/print-evidence": evidence(),
  });
});

test("it says what another exposure would do, from what to what, with its limits", async () => {
  show(<EvidencePage />, { at: "/log/evidence" });
  await screen.findByRole("region", { name: "Success against exposure" });
  const told = text("Success against exposure");
  expect(told).toContain("Raise to 3.40 s: from 78 % to about 92 % whole (84–97).");
  expect(told).toContain("70 of 80 parts that tell of light came out whole, in 24 prints.");
  expect(told).toContain("there is no upper end");
  expect(screen.getByRole("img", { name: /Whole parts of Slate 2 on Cormorant, 2 points; 3.30 s/ })).toBeTruthy();
});

test("factors are told with what they do, or that nothing is shown, or that they never moved", async () => {
  show(<EvidencePage />, { at: "/log/evidence" });
  await screen.findByRole("region", { name: "What else mattered" });
  const told = text("What else mattered");
  expect(told).toContain("temperature, 1 °C: fewer with too little light, odds ×1.3 (1.1–1.6)");
  expect(told).toContain("rest, 1 s: no effect shown on too little light");
  expect(told).toContain("tip: always the same");
});

test("what moved together gives no exposure, and is named", async () => {
  api.answers["GET /api/materials/m/print-evidence"] = evidence({
    success: success({
      curve: null,
      advice: null,
      exposure_for: null,
      effects: [],
      confounded: [{ factors: ["exposure", "temperature"], r: 0.97 }],
      warnings: [{ code: "moved-together", message: "Exposure and temperature moved together." }],
    }),
  });
  show(<EvidencePage />, { at: "/log/evidence" });
  await screen.findByRole("region", { name: "What else mattered" });
  expect(text("What else mattered")).toContain("▲ exposure and temperature moved together (r = 0.97)");
  expect(text("Success against exposure")).not.toContain("Raise");
});

test("a place that fails more often than chance gives is named and drawn", async () => {
  api.answers["GET /api/materials/m/print-evidence"] = evidence({
    places: { cells, worst: cells[8], p: 0.002, shown: true, prints: 12, warnings: [] },
  });
  show(<EvidencePage />, { at: "/log/evidence" });
  await screen.findByRole("region", { name: "Failures by place" });
  expect(text("Failures by place")).toContain("Back right: 11 failed where chance gives 2 (p = 0.002).");
  expect(screen.getByRole("img", { name: /ninths of the plate/ }).textContent).toContain("11 of 24");
});

test("one exposure is no curve, and a lab without parts is told what to log", async () => {
  api.answers["GET /api/materials/m/print-evidence"] = evidence({
    success: success({ seen: [seen(2.6, 36, 0)], curve: null, advice: null, effects: [] }),
  });
  const { unmount } = show(<EvidencePage />, { at: "/log/evidence" });
  await screen.findByRole("region", { name: "Success against exposure" });
  expect(screen.queryByRole("img", { name: /Whole parts/ })).toBeNull();
  unmount();
  api.answers["GET /api/printed-parts"] = { items: [] };
  show(<EvidencePage />, { at: "/log/evidence" });
  expect(await screen.findByText(/show from which light on parts come out whole/)).toBeTruthy();
});

test("the wanted share is asked of the server, and one that is none is said", async () => {
  const { user, place } = show(<EvidencePage />, { at: "/log/evidence" });
  const field = await screen.findByLabelText("Parts that should be whole");
  await user.clear(field);
  await user.type(field, "90");
  await waitFor(() => expect(api.of("GET", "/api/materials/m/print-evidence").at(-1)!.query.target).toBe("0.9"));
  expect(place()).toContain("target=90");
  await user.clear(field);
  await user.type(field, "9");
  expect(await screen.findByText("From 50 to 100 %.")).toBeTruthy();
});
