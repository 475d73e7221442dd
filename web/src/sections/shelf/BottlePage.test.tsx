import { screen } from "@testing-library/react";
import { expect, test } from "vitest";
import { Route, Routes } from "react-router";
import { fakeApi, show } from "../../testingTools";
import BottlePage from "./BottlePage";

const page = (changes: object = {}) => ({
  bottle: {
    id: "b",
    code: "B-001",
    material_id: "m",
    material: "Slate 2",
    lot: "SL-1",
    volume_ml: 1000,
    left_ml: 480,
    opened_on: "2026-01-05",
    best_before: "2025-12-31",
    last_shaken_at: null,
    retired_at: null,
  },
  open_days: 16,
  best_in_days: -21,
  settles: true,
  uses: [
    {
      kind: "print",
      code: "J-001",
      at: "2026-01-21T08:00:00Z",
      words: "printed on Cormorant",
      ml: -1.24,
      initials: "IM",
    },
    {
      kind: "calibration",
      code: "C-001",
      at: "2026-01-20T08:00:00Z",
      words: "calibrated on Cormorant",
      ml: null,
      initials: null,
    },
  ],
  ...changes,
});

function shown(answer: object) {
  fakeApi({ "GET /api/bottles/B-001/page": answer });
  return show(
    <Routes>
      <Route path="/bottles/:code" element={<BottlePage />} />
    </Routes>,
    { at: "/bottles/B-001" },
  );
}

test("a bottle says what is left, how old it is and where it went", async () => {
  shown(page());
  expect(await screen.findByRole("img", { name: "48 % full" })).toBeTruthy();
  const text = document.body.textContent.replace(/\s/g, " ");
  expect(text).toContain("480 ml of 1000 ml");
  expect(text).toContain("16 days ago");
  expect(text).toContain("past its best");
  expect(text).toContain("−1.2 ml");
  expect(screen.getByRole("link", { name: "C-001" }).getAttribute("href")).toBe("/calibrate/C-001");
});

test("a fresh bottle says what will stand there, and what to do with it", async () => {
  shown(page({ open_days: null, best_in_days: 3, uses: [], settles: false }));
  expect(await screen.findByText(/Prints, pours and batches that take resin out/)).toBeTruthy();
  expect(screen.getByRole("link", { name: "Calibrate with it" })).toBeTruthy();
  expect(screen.getByText(/in 3 days/)).toBeTruthy();
});
