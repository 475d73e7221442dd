import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../../testingTools";
import { arm, calibration } from "../fixtures";
import { CustomForm } from "./CustomForm";
import { LadderForm } from "./LadderForm";
import { QuoteCard, planWords } from "./QuoteCard";

const source = (key: string, name: string, changes: object = {}) => ({
  key,
  name,
  trust: `${name} may be trusted so far.`,
  basis: "",
  low_s: 1.5,
  high_s: 4,
  missing: null,
  ...changes,
});
const SOURCES = {
  chosen: "maker",
  measured: null,
  exposure_step_s: 0.1,
  sources: [
    source("own guess", "My own estimate", { low_s: null, high_s: null }),
    source("maker", "Maker’s range"),
    source("borrowed", "Another workshop’s number", { low_s: null, high_s: null }),
    source("working curve", "Working curve", { missing: "Expose depth squares." }),
  ],
  ways: [
    { key: "separate", name: "Separate prints", gives: "Each alone.", limit: "Takes longest.", missing: null },
    { key: "plate", name: "Several exposures on one plate", gives: "", limit: "", missing: "This printer cannot." },
    { key: "strip", name: "Dose strip, lift suppressed", gives: "", limit: "It only seeds.", missing: null },
  ],
};
const quote = (exposures: number[], changes: object = {}) => ({
  way: "separate",
  tells: "Edge growth.",
  does_not_tell: "Supports.",
  coupons: exposures.map((exposure_s) => ({ exposure_s, duration_s: 450, volume_ml: 1.2 })),
  plate: null,
  duration_s: 2250,
  volume_ml: 6,
  thickness_mm: 1.35,
  warnings: [],
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/calibrations/c/sources": SOURCES,
    "POST /api/arms/a/quote-ladder": quote([1.5, 2.4, 4]),
    "POST /api/arms/a/plan": { coupons: ["101J", "102L", "103N"], print_ids: ["1", "2", "3"] },
  });
});
const ladder = (changes: object = {}) => {
  const onLadder = vi.fn();
  return { ...show(<LadderForm calibration={calibration()} arm={arm(changes)} onLadder={onLadder} />), onLadder };
};

test("a ladder begins over the arm's range, shows what it would print and what it costs", async () => {
  const { onLadder } = ladder();
  const plan = await screen.findByRole<HTMLButtonElement>("button", { name: /^Plan 3 coupons · 38.min · 6\.0.ml$/ });
  expect(plan.disabled).toBe(false);
  expect(onLadder).toHaveBeenLastCalledWith([1.5, 2.4, 4]);
  expect(api.of("POST", "/api/arms/a/quote-ladder")[0]!.body).toMatchObject({
    low_s: 1.5,
    high_s: 4,
    count: 5,
    spacing: "geometric",
    kind: "flat",
    way: "separate",
  });
});

test("it is planned as quoted, and its rings leave the axis with it", async () => {
  const { user, onLadder, unmount } = ladder();
  await user.click(await screen.findByRole("button", { name: /^Plan 3 coupons/ }));
  expect(await screen.findByText(/Planned 101J, 102L, 103N/)).toBeTruthy();
  expect(api.of("POST", "/api/arms/a/plan")[0]!.body).toMatchObject({
    kind: "flat",
    exposures_s: [1.5, 2.4, 4],
    way: "separate",
  });
  unmount();
  expect(onLadder).toHaveBeenLastCalledWith([]);
});

test("a range that cannot be is said at its end, and nothing is planned or shown", async () => {
  api.answers["POST /api/arms/a/quote-ladder"] = new Refusal(422, "No.", {
    high_s: "The high end is below the low end.",
  });
  const { onLadder } = ladder();
  expect(await screen.findByText("The high end is below the low end.")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Plan" }).disabled).toBe(true);
  expect(onLadder).toHaveBeenLastCalledWith([]);
});

test("a way the printer cannot go stays in sight and says why; a strip warns of the lift", async () => {
  const { user } = ladder();
  expect((await screen.findByLabelText<HTMLInputElement>("Several exposures on one plate")).disabled).toBe(true);
  await user.click(screen.getByLabelText("Dose strip, lift suppressed"));
  expect(screen.getByText(/nothing may be printed normally afterwards until the lift is back on/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Areas").value).toBe("7");
  expect(screen.queryByLabelText("Coupon")).toBeNull();
});

test("sources stand least reliable first; the chosen one says what it may be trusted for, better ones what they want", async () => {
  ladder();
  expect(await screen.findByText("Maker’s range may be trusted so far.")).toBeTruthy();
  expect(screen.getByText(/1\.5–4\.0/)).toBeTruthy();
  expect(screen.getByText("One source to be trusted more, not here yet")).toBeTruthy();
  expect(screen.getByText("Expose depth squares.")).toBeTruthy();
});

test("what was measured here since is one step away, with the range it brings along", async () => {
  const sources = SOURCES.sources.map((one) =>
    one.key === "working curve" ? { ...one, missing: null, low_s: 1.9, high_s: 3.4 } : one,
  );
  Object.assign(api.answers, {
    "GET /api/calibrations/c/sources": { ...SOURCES, measured: "working curve", sources },
    "PUT /api/calibrations/c/range": { low_s: 1.9, high_s: 3.4 },
  });
  const { user } = ladder();
  expect(await screen.findByText(/Measured here since: the working curve\./)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Start from it" }));
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("Highest").value).toBe("3.4"));
  expect(api.of("PUT", "/api/calibrations/c/range")[0]!.body).toEqual({
    version: 3,
    source: "working curve",
    low_s: 1.9,
    high_s: 3.4,
  });
});

test("another workshop's number becomes a range around it", async () => {
  Object.assign(api.answers, {
    "GET /api/calibrations/c/sources": { ...SOURCES, chosen: "borrowed" },
    "GET /api/calibrations/c/borrowed-range": { low_s: 1.6, high_s: 3.9 },
    "PUT /api/calibrations/c/range": { low_s: 1.6, high_s: 3.9 },
  });
  const { user } = ladder();
  await user.type(await screen.findByLabelText("Their number"), "2.5");
  await user.click(screen.getByRole("button", { name: "Range around it" }));
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("Highest").value).toBe("3.9"));
  expect(api.of("PUT", "/api/calibrations/c/range")[0]!.body).toEqual({
    version: 3,
    source: "borrowed",
    low_s: 1.6,
    high_s: 3.9,
  });
});

test("another arm says where its range comes from", async () => {
  ladder({ range_from: "as set", range_s: [1.8, 3.2] });
  expect(await screen.findByText("Filled in: around what looked right in “as set”.")).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Lowest").value).toBe("1.8");
});

const custom = (changes: object = {}) => {
  const onDone = vi.fn();
  api.answers["POST /api/arms/a/quote"] = quote([1.6, 2]);
  return { ...show(<CustomForm calibration={calibration(changes)} arm={arm()} onDone={onDone} />), onDone };
};

test("exposures of one's own are typed with commas or points", async () => {
  const { user, onDone } = custom();
  await user.type(screen.getByLabelText("Exposures, s"), "1,6 2.0");
  await user.click(await screen.findByRole("button", { name: /^Plan 2 coupons/ }));
  await waitFor(() => expect(onDone).toHaveBeenCalled());
  expect(api.of("POST", "/api/arms/a/plan")[0]!.body).toMatchObject({
    kind: "support",
    exposures_s: [1.6, 2],
    is_repeat: false,
    way: "separate",
  });
});

test("what is no exposure is said and not asked about", async () => {
  const { user } = custom();
  await user.type(screen.getByLabelText("Exposures, s"), "2 two");
  expect(screen.getByText("Give seconds, separated by spaces.")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Plan" }).disabled).toBe(true);
});

test("one plate is offered where the printer takes several exposures, and not for the grid", async () => {
  const { user } = custom({ several_exposures: true });
  expect(screen.getByLabelText("All on one plate, shuffled")).toBeTruthy();
  await user.selectOptions(screen.getByLabelText("Coupon"), "grid");
  expect(screen.queryByLabelText("All on one plate, shuffled")).toBeNull();
});

test("a plate is drawn with its places instead of a list of costs", () => {
  const places = [
    { exposure_s: 2, x_mm: 0, y_mm: 0, width_mm: 52, height_mm: 33 },
    { exposure_s: 3, x_mm: 60, y_mm: 0, width_mm: 52, height_mm: 33 },
  ];
  show(
    <QuoteCard
      quote={
        quote([2, 3], {
          way: "plate",
          plate: { width_mm: 153, height_mm: 87, places, keep_off: [], repeats: 1, mapped: true },
        }) as never
      }
      step={0.1}
    />,
  );
  expect(screen.getByRole("img", { name: "Plate with 2 coupons" })).toBeTruthy();
  expect(screen.getByText(/2 coupons, shuffled; percent is the light of the place/)).toBeTruthy();
  expect(screen.queryByRole("table")).toBeNull();
});

test("single prints are listed with what each costs", () => {
  show(<QuoteCard quote={quote([1.5, 4]) as never} step={0.1} />);
  expect(
    within(screen.getByRole("table", { name: "What it costs" }))
      .getAllByRole("row")
      .map((one) => one.textContent.replace(/\s/g, " ")),
  ).toEqual(["1.5 s8 min1.2 ml", "4.0 s8 min1.2 ml"]);
  expect(planWords(undefined)).toBe("Plan");
  expect(planWords(quote([1], { way: "strip" }) as never)).toMatch(/^Plan 1 area · 38.min/);
});
