import { fireEvent, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { show } from "../../testingTools";
import { featureOf, LimitDrawing } from "./LimitDrawing";
import { LimitsFields } from "./LimitsFields";
import { chosenUse, UseChoice } from "./UseChoice";

const limits = (changes: object = {}) => ({ walls_size_mm: 0.2, slots_size_mm: null, ...changes });
const use = (key: string, changes: object = {}) => ({ key, name: key, words: `for ${key}`, limits: limits(changes) });

test("a use is chosen in words, and is the one whose limits stand in the form", async () => {
  const uses = [use("fine", { walls_size_mm: 0.1 }), use("fit")] as never[];
  const onChoose = vi.fn();
  const { user } = show(<UseChoice uses={uses} chosen={chosenUse(uses, limits())} onChoose={onChoose} />);
  expect(screen.getByRole("button", { name: /fit/ }).getAttribute("aria-pressed")).toBe("true");
  await user.click(screen.getByRole("button", { name: /fine/ }));
  expect(onChoose).toHaveBeenCalledWith(uses[0]);
  expect(chosenUse(uses, limits({ slots_size_mm: 1 }))).toBeNull();
  expect(chosenUse(uses, null)).toBeNull();
});

test.each([
  ["walls_probability", "wall"],
  ["slots_size_mm", "slot"],
  ["tips_per_part", "tip"],
  ["fail_tip_size_mm", "tip"],
  ["growth_tol_um", "size"],
  ["z_bloom_max_um", "depth"],
  ["another", null],
])("%s is about the %s", (limit, feature) => {
  expect(featureOf(limit)).toBe(feature);
});

test("the field one stands in lights its feature on the drawing", () => {
  const fields = [{ key: "walls_size_mm", label: "Thinnest wall", kind: "number", unit: "mm", hint: "", empty: null }];
  show(<LimitsFields limits={limits() as never} fields={fields as never} onChange={vi.fn()} errors={{}} />);
  expect(screen.getByRole("img", { name: "The coupons" })).toBeTruthy();
  fireEvent.focus(screen.getByLabelText("Thinnest wall"));
  expect(screen.getByRole("img", { name: "Lit: walls that stand" })).toBeTruthy();
});

test("every feature can be lit", () => {
  for (const feature of ["wall", "slot", "tip", "size", "depth"] as const) {
    const { unmount, container } = show(<LimitDrawing lit={feature} />);
    expect(container.querySelector("[stroke='var(--violet)'], [fill='var(--violet)']")).toBeTruthy();
    unmount();
  }
});
