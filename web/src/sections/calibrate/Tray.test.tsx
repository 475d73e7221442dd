import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import { arm, calibration, card, foundWindow } from "./fixtures";
import { NextPanel } from "./NextPanel";
import { StripStage } from "./StripStage";
import { Tray } from "./Tray";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/how-warm": { now: null, last: null } });
});

const coupon = (code: string) => within(screen.getByRole("article", { name: `Coupon ${code}` }));
const tray = (coupons: object[], changes: object = {}, ofArm: object = {}) =>
  show(
    <Tray
      calibration={calibration(changes)}
      arm={arm({ coupons, to_print: coupons.map((one) => (one as { code: string }).code), ...ofArm })}
    />,
  );

test("an arm without coupons has no tray", () => {
  expect(tray([]).container.querySelector("ul")).toBeNull();
});

test("a coupon shows its exposure on the printer's step, its mark, and what was read", () => {
  tray([
    card({
      status: "read",
      verdict: "ok",
      growth_um: 14.2,
      walls: [19, 20],
      slots: [12, 20],
      bloom_um: 80,
      exposure_s: 2.4,
    }),
  ]);
  const text = screen.getByRole("article", { name: "Coupon 103N" }).textContent.replace(/\s/g, " ");
  for (const said of ["2.4 s", "within limits", "+14 µm", "walls19 of 20", "slots12 of 20", "lost in Z+80 µm"])
    expect(text).toContain(said);
});

test("what is odd about a coupon stands on it", () => {
  tray([
    card({
      status: "read",
      verdict: "over",
      faults: ["uncured"],
      left_out: true,
      judgement: { verdict: "over", initials: "RB", reason: "the edges say so" },
    }),
    card({
      id: "2",
      code: "104R",
      is_repeat: true,
      dose_ratio: 0.92,
      effective_s: 2.2,
      way: "plate",
      range_only: true,
    }),
  ]);
  expect(coupon("103N").getByText("uncured")).toBeTruthy();
  expect(coupon("103N").getByText(/overruled by RB: the edges say so/)).toBeTruthy();
  expect(coupon("103N").getByText("left out")).toBeTruthy();
  expect(coupon("104R").getByText("repeat")).toBeTruthy();
  expect(coupon("104R").getByText(/got 2\.20.s there \(92.% of the light\)/)).toBeTruthy();
  expect(coupon("104R").getByText(/finds the range only/)).toBeTruthy();
});

test("a coupon is marked as printed with its temperature, and how it came out", async () => {
  api.answers["POST /api/prints/p/printed"] = {};
  const { user } = tray([card()]);
  await user.click(screen.getByRole("button", { name: "Mark 103N as printed" }));
  const dialog = within(screen.getByRole("dialog"));
  await user.type(dialog.getByLabelText("Temperature at start"), "75 F");
  await user.selectOptions(dialog.getByLabelText("Measured in"), "resin");
  await user.click(dialog.getByRole("button", { name: "missing parts" }));
  expect(dialog.getByText(/waits until the vat is searched/)).toBeTruthy();
  await user.type(dialog.getByLabelText("What was seen"), "two walls in the vat");
  await user.click(dialog.getByRole("button", { name: "Mark as printed" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  const sent = api.of("POST", "/api/prints/p/printed")[0]!.body as Record<string, unknown>;
  expect(sent.temp_c).toBeCloseTo(23.9, 1);
  expect(sent).toMatchObject({ temp_place: "resin", outcome: "missing parts", seen: "two walls in the vat" });
  expect(localStorage.getItem("setback.place")).toBe("resin");
});

test("how warm the print before was is one tap away, and only while nothing is typed", async () => {
  api.answers["GET /api/how-warm"] = { now: null, last: { code: "J-001", temp_c: 23.4, temp_place: "resin" } };
  const { user } = tray([card()]);
  await user.click(screen.getByRole("button", { name: "Mark 103N as printed" }));
  await user.click(await screen.findByRole("button", { name: /23\.4.°C in the resin, as J-001/ }));
  expect(screen.getByLabelText<HTMLInputElement>("Temperature at start").value).toBe("23.4");
  expect(screen.getByLabelText<HTMLSelectElement>("Measured in").value).toBe("resin");
  expect(screen.queryByRole("button", { name: /as J-001/ })).toBeNull();
});

test("what it took comes out of its calibration's bottle, unless the vat's pours count it", async () => {
  api.answers["POST /api/prints/p/printed"] = {};
  const bottle = { bottle_id: "b", bottle: "B-001, lot SL-1", bottle_left_ml: 480, bottle_poured: false };
  const { user, unmount } = tray([card()], bottle);
  await user.click(screen.getByRole("button", { name: "Mark 103N as printed" }));
  const taken = screen.getByRole<HTMLInputElement>("checkbox", { name: "Take it from bottle B-001, lot SL-1" });
  expect(taken.checked).toBe(true);
  expect(screen.getByText(/480.ml are left in it/)).toBeTruthy();
  await user.clear(screen.getByLabelText("Resin used"));
  await user.type(screen.getByLabelText("Resin used"), "2,5");
  await user.click(screen.getByRole("button", { name: "Mark as printed" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/prints/p/printed")[0]?.body).toMatchObject({ bottle_id: "b", volume_ml: 2.5 }),
  );
  unmount();
  tray([card()], { ...bottle, bottle_poured: true });
  await user.click(screen.getByRole("button", { name: "Mark 103N as printed" }));
  expect(screen.getByRole<HTMLInputElement>("checkbox", { name: /Take it from/ }).checked).toBe(false);
  expect(screen.getByText(/have taken it off the bottle already/)).toBeTruthy();
});

test("several prints that came out alike are marked in one go, and taken back in one", async () => {
  api.answers["POST /api/prints-together/printed"] = { print_ids: ["p", "q"] };
  api.answers["POST /api/prints-together/unprinted"] = { print_ids: ["p", "q"] };
  const { user } = tray([card(), card({ id: "2", code: "104R", print_id: "q", print_code: "J-002" })]);
  await user.click(screen.getByRole("button", { name: "All 2 printed, same temperature…" }));
  const dialog = within(screen.getByRole("dialog", { name: "All 2 are printed" }));
  expect(dialog.queryByLabelText("Resin used")).toBeNull();
  await user.type(dialog.getByLabelText("Temperature at start"), "24");
  await user.click(dialog.getByRole("button", { name: "Mark as printed" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  const sent = api.of("POST", "/api/prints-together/printed")[0]?.body;
  expect(sent).toMatchObject({ print_ids: ["p", "q"], temp_c: 24, outcome: "whole" });
  await waitFor(() =>
    expect(api.of("POST", "/api/prints-together/unprinted")[0]?.body).toEqual({ print_ids: ["p", "q"] }),
  );
});

test("a bottle that holds less says so beside it", async () => {
  api.answers["POST /api/prints/p/printed"] = new Refusal(422, "B-001 holds 1 ml.", { bottle_id: "B-001 holds 1 ml." });
  const { user } = tray([card()], { bottle_id: "b", bottle: "B-001", bottle_left_ml: 1, bottle_poured: false });
  await user.click(screen.getByRole("button", { name: "Mark 103N as printed" }));
  await user.click(screen.getByRole("button", { name: "Mark as printed" }));
  expect(await screen.findAllByText("B-001 holds 1 ml.")).toHaveLength(1);
});

test("a gate says in the dialog why nothing can be printed", async () => {
  api.answers["POST /api/prints/p/printed"] = new Refusal(409, "J-001 left parts missing.", {
    vat: "J-001 left parts missing.",
  });
  const { user } = tray([card()]);
  await user.click(screen.getByRole("button", { name: "Mark 103N as printed" }));
  await user.click(screen.getByRole("button", { name: "Mark as printed" }));
  expect(await within(screen.getByRole("dialog")).findByText("J-001 left parts missing.")).toBeTruthy();
});

test("what is left out can be counted on purpose, with a reason", async () => {
  api.answers["POST /api/coupons/103N/judgements"] = {};
  const { user } = tray([card({ status: "read", verdict: "ok", faults: ["uncured"], left_out: true })]);
  await user.click(screen.getByRole("button", { name: "Count 103N on purpose" }));
  await user.type(screen.getByLabelText("Why it should count"), "cured since");
  await user.click(screen.getByRole("button", { name: "Count it" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/coupons/103N/judgements")[0]?.body).toEqual({
      include: true,
      verdict: null,
      reason: "cured since",
    }),
  );
});

test("a planned coupon is taken back, and may come back", async () => {
  api.answers["POST /api/prints/p/cancel"] = {};
  api.answers["POST /api/prints/p/reinstate"] = {};
  const { user } = tray([card()]);
  await user.click(screen.getByRole("button", { name: "Cancel 103N" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/prints/p/reinstate")).toHaveLength(1));
});

test("a simulated printer prints all that waits at once; a real one is not asked to", () => {
  const two = [card(), card({ id: "2", code: "104R", print_id: "q" })];
  const { unmount } = tray(two, { simulated: true });
  expect(screen.getByRole("button", { name: "Print all 2" })).toBeTruthy();
  expect(screen.queryByRole("button", { name: /as printed/ })).toBeNull();
  unmount();
  tray(two);
  expect(screen.queryByRole("button", { name: "Print all 2" })).toBeNull();
});

test("in a closed calibration coupons are looked at and nothing is done", () => {
  tray([card(), card({ id: "2", code: "104R", status: "printed" })], { closed_at: "2026-01-01T00:00:00Z" });
  expect(screen.queryAllByRole("button")).toEqual([]);
  expect(screen.queryByRole("link", { name: "Read" })).toBeNull();
});

const suggested = (changes: object = {}, more: object = {}) => ({
  settles: "the upper end of thin slots",
  exposures_s: [2.9],
  is_repeat: false,
  cost: { duration_s: 480, volume_ml: 1.2, warnings: [] },
  refused: null,
  further_settles: null,
  further_cost: null,
  ...more,
  advice: {
    action: "print",
    kind: "flat",
    exposure_s: 2.9,
    decision: "more",
    p_now: 0.62,
    p_offer: 0.71,
    p_window: 0.9,
    message: "Thin slots: the upper end is the least sure.",
    coupons: [],
    further: null,
    warnings: [],
    ...changes,
  },
});
const onDecide = vi.fn();
function next(held: object, changes: object = {}) {
  return show(
    <NextPanel
      calibration={calibration(changes)}
      arm={arm({ coupons: [card({ status: "read", verdict: "ok" })], ...held })}
      onDialog={vi.fn()}
      onLadder={vi.fn()}
      onDecide={onDecide}
    />,
  );
}

test("the next coupon says why, what it settles and what it costs, and is planned with one press", async () => {
  api.answers["POST /api/arms/a/plan"] = { coupons: ["106W"], print_ids: ["p6"] };
  const { user } = next({ next: suggested() });
  const section = within(screen.getByRole("region", { name: "Next coupon" }));
  expect(section.getByText("It settles the upper end of thin slots.")).toBeTruthy();
  expect(section.getByText(/Best chance so far 62.%; with this coupon it is decided with 71.%/)).toBeTruthy();
  await user.click(section.getByRole("button", { name: /^Plan it · 8.min · 1\.2.ml$/ }));
  expect(await screen.findByText(/Planned 106W/)).toBeTruthy();
  expect(api.of("POST", "/api/arms/a/plan")[0]!.body).toMatchObject({
    kind: "flat",
    exposures_s: [2.9],
    is_repeat: false,
    way: "separate",
  });
});

test("while coupons wait nothing further is suggested", () => {
  next({ coupons: [card({ exposure_s: 2.9, code: "106W" })], to_print: ["106W"], next: suggested() });
  expect(screen.queryByRole("region", { name: "Next coupon" })).toBeNull();
  expect(screen.queryByRole("button", { name: /^Plan it/ })).toBeNull();
});

test("a contradiction is printed again, as a repeat", async () => {
  api.answers["POST /api/arms/a/plan"] = { coupons: ["107Y", "108C"], print_ids: ["p7", "p8"] };
  const { user } = next({
    next: suggested({ action: "repeat", exposure_s: 2.4 }, { exposures_s: [2.4, 2.9], is_repeat: true, settles: null }),
  });
  expect(screen.getByRole("region", { name: "Print again" })).toBeTruthy();
  await user.click(screen.getByRole("button", { name: /^Plan 2 coupons/ }));
  await waitFor(() =>
    expect(api.of("POST", "/api/arms/a/plan")[0]?.body).toMatchObject({ exposures_s: [2.4, 2.9], is_repeat: true }),
  );
});

test("a coupon that cannot be printed here says why", () => {
  next({ next: suggested({ kind: "support" }, { cost: null, refused: "The coupon does not fit the plate." }) });
  expect(screen.getByText("The coupon does not fit the plate.")).toBeTruthy();
  expect(screen.queryByRole("button", { name: /^Plan it/ })).toBeNull();
});

test.each([
  ["offer", "Stop: decided"],
  ["narrow", "Stop: too narrow to settle"],
])("it says when to stop: %s", async (decision, title) => {
  const { user } = next({
    next: suggested(
      { action: "stop", kind: null, exposure_s: null, decision },
      { exposures_s: [], cost: null, settles: null },
    ),
  });
  expect(screen.getByRole("region", { name: title })).toBeTruthy();
  const choose = screen.queryByRole("button", { name: "Choose an exposure" });
  if (decision !== "offer") return expect(choose).toBeNull();
  await user.click(choose!);
  expect(onDecide).toHaveBeenCalled();
});

test("with an offer whose latitude is not shown, the coupon that would show it may be planned", async () => {
  api.answers["POST /api/arms/a/plan"] = { coupons: ["109F"], print_ids: ["p9"] };
  const further = { kind: "support", exposure_s: 2.1, settles: { lane: "tips", end: "lower" } };
  const { user } = next({
    next: suggested(
      { action: "stop", kind: null, exposure_s: null, decision: "offer", further },
      {
        exposures_s: [],
        cost: null,
        settles: null,
        further_settles: "the lower end of support tips",
        further_cost: { duration_s: 2100, volume_ml: 0.6, warnings: [] },
      },
    ),
  });
  expect(screen.getByText(/Or first a support coupon at 2\.1.s, to show the lower end of support tips/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: /^plan it for the latitude/ }));
  await waitFor(() =>
    expect(api.of("POST", "/api/arms/a/plan")[0]?.body).toMatchObject({ kind: "support", exposures_s: [2.1] }),
  );
});

test("all coupons that wait come in one file, in every format there is", () => {
  next({ coupons: [card(), card({ id: "2", code: "104R" })], to_print: ["103N", "104R"] });
  expect(screen.getByRole("link", { name: "3MF of 2 coupons" }).getAttribute("href")).toBe(
    "/api/calibrations/c/files-to-print?arm=1&format=3mf",
  );
});

test("a coupon that waits alone has its files too, in the panel and on its card", async () => {
  next({ coupons: [card()], to_print: ["103N"] });
  expect(screen.getByRole("link", { name: "3MF of coupon 103N" }).getAttribute("href")).toBe(
    "/api/coupons/103N/file?format=3mf",
  );
  const { user } = tray([card()]);
  await user.click(screen.getByRole("button", { name: "Files of coupon 103N" }));
  expect(screen.getByText("SVG", { selector: ".dropdown-item" }).getAttribute("href")).toBe(
    "/api/coupons/103N/file?format=svg",
  );
});

test("what waits for a reading comes first", () => {
  next({ coupons: [card({ status: "printed" })], to_read: ["103N"] });
  expect(screen.getByRole("link", { name: "Read 103N" }).getAttribute("href")).toBe("/coupons/103N");
});

test("a ring on the axis stands for what is advised and not planned", () => {
  wide();
  api.answers["GET /api/calibrations/c/preparing"] = { campaign: {}, print: {}, gates: [], vat: null };
  const held = arm({
    coupons: [card({ status: "read", verdict: "ok" })],
    window: foundWindow({ lanes: {} }),
    stage: "refine",
    next: suggested(),
  });
  const place = {
    arm: held,
    step: "refine",
    chosen: null,
    choose: vi.fn(),
    policy: "centre",
    reasoned: "centre",
    move: vi.fn(),
    toStep: vi.fn(),
    toArm: vi.fn(),
    toPolicy: vi.fn(),
  };
  const { container } = show(
    <StripStage
      calibration={calibration({ arms: [held], closed_at: "x" })}
      place={place as never}
      strip={null}
      onDialog={vi.fn()}
    />,
  );
  expect(
    [...container.querySelectorAll("[data-proposed]")].map((one) => Number(one.getAttribute("data-proposed"))),
  ).toEqual([2.9]);
});

test("what to type into the slicing program stands in the panel, with each coupon's own exposure", () => {
  const lines = [
    { name: "Layer height", value: "0.05", unit: "mm" },
    { name: "Base layers", value: "4", unit: "" },
  ];
  next({
    coupons: [card(), card({ id: "2", code: "104R", exposure_s: 3.1 })],
    to_print: ["103N", "104R"],
    setting_lines: lines,
  });
  const rows = within(screen.getByRole("group")).getAllByRole("row");
  expect(rows.map((row) => row.textContent.replace(/\s/g, " "))).toEqual([
    "Layer height0.05 mm",
    "Base layers4",
    "Exposure of 103N2.4 s",
    "Exposure of 104R3.1 s",
  ]);
});

test("a coupon within its own limits outside the window says why the window is narrower", () => {
  const window = foundWindow({ window: { lower_s: 2.6, upper_s: 3.4 } });
  tray([card({ status: "read", verdict: "ok", effective_s: 2.4 })], {}, { window });
  expect(screen.getByText(/the window is narrower/)).toBeTruthy();
});
