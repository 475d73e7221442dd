import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { expect, test, vi } from "vitest";
import { ConflictNote } from "./ConflictNote";
import type { Arm, Calibration } from "./model";

const REMEDIES = ["rest", "warm", "slow", "tips", "layer", "tolerance"].map((code) => ({
  code,
  message: `Try ${code}.`,
  cost: "something",
}));
const conflict = (changes: object = {}) => ({
  lower_from: "walls",
  upper_from: "z",
  lower_s: 2.6,
  upper_s: 2.4,
  gap_pct: 8.3,
  gap_ci_pct: [2.1, 15.2],
  proven: true,
  try_s: null,
  message: "",
  remedies: REMEDIES,
  ...changes,
});
const arm = (held: object | null) =>
  ({
    id: "a",
    window: held && { conflict: held, lanes: { walls: { name: "Thin walls" }, z: { name: "Z bloom" } } },
  }) as unknown as Arm;
const CALIBRATION = {
  material_id: "m",
  printer_id: "p",
  thicker_um: 100,
  exposure_step_s: 0.1,
  closed_at: null,
} as unknown as Calibration;

function show(held: object | null, changes: object = {}) {
  const onDialog = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <ConflictNote calibration={{ ...CALIBRATION, ...changes }} arm={arm(held)} onDialog={onDialog} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return onDialog;
}
const item = (code: string) => screen.getByText(`Try ${code}.`, { exact: false }).closest("li")!;

test("without a conflict it is not there", () => {
  show(null);
  expect(screen.queryByRole("region")).toBeNull();
});

test("it says by how much, with the interval, in the names of the lanes", () => {
  show(conflict());
  const region = screen.getByRole("region", { name: "Conflict" });
  expect(region.textContent).toContain("No exposure is right.");
  expect(region.textContent.replace(/\s/g, " ")).toContain("Thin walls and z bloom are 8 % apart (2 to 15 %).");
});

test("each remedy is begun where it stands", async () => {
  const onDialog = show(conflict());
  for (const code of ["rest", "slow", "tips", "tolerance"]) await userEvent.click(item(code).querySelector("button")!);
  expect(onDialog.mock.calls).toEqual([["arm"], ["arm"], ["limits"], ["limits"]]);
  expect(item("warm").querySelector("a")!.getAttribute("href")).toBe("/climate/warm-start?printer=p");
  expect(item("layer").querySelector("a")!.getAttribute("href")).toBe("/calibrate/new?material=m&printer=p&height=100");
});

test("what is closed begins nothing", () => {
  show(conflict(), { closed_at: "2026-01-01T00:00:00Z" });
  expect(screen.queryAllByRole("button")).toEqual([]);
  expect(screen.queryAllByRole("link")).toEqual([]);
});
