import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import { ArmDialog } from "./ArmDialog";
import { ConfirmStage } from "./confirm/ConfirmStage";
import { Squares } from "./depth/Squares";
import { FirstLayerStage } from "./first-layer/FirstLayerStage";
import { arm, calibration } from "./fixtures";
import { LimitsDialog } from "./LimitsDialog";
import { LimitsFields } from "./LimitsFields";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({});
});
const sent = (method: string, path: string) => api.of(method, path).at(-1)?.body;

const GRIPS = [
  "stayed in the vat",
  "lifted at an edge",
  "slides off under a glove",
  "scraper and steady pressure",
  "will not come off whole",
];
const layer = (changes: object = {}) => ({
  calibration_id: "c",
  exposure_step_s: 0.1,
  grips: GRIPS,
  tries: [],
  normal_exposure_s: 2.4,
  normal_from: "middle of the range",
  base_layers: 4,
  transition_layers: 3,
  advice: {
    action: "try",
    base_exposure_s: 19.2,
    message: "8 times the normal exposure is a first try.",
    multiple: 8,
    z_offset_um: null,
    flare_um: null,
    warnings: [],
  },
  ...changes,
});
const layers = (held: object, changes: object = {}) => {
  api.answers["GET /api/calibrations/c/first-layer"] = held;
  return show(<FirstLayerStage calibration={calibration(changes)} />);
};

test("a first try begins at what is advised, and is recorded with its grip", async () => {
  api.answers["POST /api/calibrations/c/base-tries"] = layer();
  const { user } = layers(layer());
  const form = within(await screen.findByRole("form", { name: "Record a try" }));
  expect(form.getByLabelText<HTMLInputElement>("Base exposure").value).toBe("19.2");
  const record = form.getByRole<HTMLButtonElement>("button", { name: "Record the try" });
  expect(record.disabled).toBe(true);
  await user.click(form.getByRole("button", { name: /^2 slides off/ }));
  await user.type(form.getByLabelText("Thickness of the square"), "0.31");
  await user.click(form.getByLabelText("level"));
  await user.click(record);
  await waitFor(() =>
    expect(sent("POST", "/api/calibrations/c/base-tries")).toEqual({
      base_exposure_s: 19.2,
      rating: 2,
      thickness_mm: 0.31,
      foot_mm: null,
      above_mm: null,
      checked: ["level"],
      note: "",
    }),
  );
});

test("what stayed in the vat has no thickness to measure", async () => {
  const { user } = layers(layer());
  await user.click(await screen.findByRole("button", { name: /^0 stayed/ }));
  expect(screen.getByLabelText<HTMLInputElement>("Thickness of the square").disabled).toBe(true);
});

const tried = layer({
  tries: [
    {
      id: "t",
      code: "K-001",
      base_exposure_s: 24,
      rating: 3,
      thickness_mm: 0.262,
      foot_mm: 20.4,
      above_mm: 20.1,
      checked: ["zero"],
      note: "",
      initials: "IM",
    },
  ],
  advice: {
    action: "done",
    base_exposure_s: 24,
    message: "24 s grips as wanted.",
    multiple: 10,
    z_offset_um: 62,
    flare_um: 150,
    warnings: [],
  },
});

test("what was found is drawn, said with its offset and flare, and goes into arms nothing is printed of", async () => {
  api.answers["PUT /api/arms/a/settings"] = {};
  const { user } = layers(tried, {
    arms: [
      arm({ settings: { base_exposure_s: 30, base_layers: 4 } }),
      arm({ id: "b", name: "rest 4 s", settings: { base_exposure_s: 24 } }),
      arm({ id: "d", name: "slow", settings: { base_exposure_s: 28 }, coupons: [{ status: "read" }] }),
    ],
  });
  expect(await screen.findByRole("img", { name: /^Grip of 1 tries: 24 s scraper/ })).toBeTruthy();
  const aside = screen.getByRole("complementary", { name: "First layer" }).textContent.replace(/\s/g, " ");
  expect(aside).toContain("Z offset+62 µm");
  expect(aside).toContain("Foot flare+150 µm");
  expect(screen.getByText("“rest 4 s” uses it.")).toBeTruthy();
  expect(screen.getByText(/“slow” is printed with 28/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: /^Use 24.s in “as set”/ }));
  await waitFor(() =>
    expect(sent("PUT", "/api/arms/a/settings")).toMatchObject({ settings: { base_exposure_s: 24, base_layers: 4 } }),
  );
});

test("a try is withdrawn, and a closed calibration takes no more of them", async () => {
  api.answers["POST /api/base-tries/t/withdraw"] = tried;
  const { user, unmount } = layers(tried);
  await user.click(await screen.findByRole("button", { name: "Withdraw K-001" }));
  expect(await screen.findByText("K-001 is withdrawn.")).toBeTruthy();
  unmount();
  layers(tried, { closed_at: "2026-01-01T00:00:00Z" });
  await screen.findByText("24 s grips as wanted.");
  expect(screen.queryByRole("form", { name: "Record a try" })).toBeNull();
});

const square = (changes: object = {}) => ({
  id: "q",
  code: "D-001",
  exposure_s: 6,
  mean_mm: null,
  thicknesses_mm: [],
  reading_id: null,
  initials: null,
  earlier: 0,
  ...changes,
});
const squares = (held: object, changes: object = {}) =>
  show(<Squares depth={{ squares: [held], exposure_step_s: 0.1 } as never} calibration={calibration(changes)} />);

test("a square is measured in several places", async () => {
  api.answers["POST /api/depth-squares/q/readings"] = {};
  const { user } = squares(square());
  await user.type(screen.getByLabelText("Thickness of D-001"), "0,25 0.26");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() =>
    expect(sent("POST", "/api/depth-squares/q/readings")).toMatchObject({
      thicknesses_mm: [0.25, 0.26],
      supersedes_id: null,
      reason: null,
    }),
  );
});

test("a correction begins with what was read and says why", async () => {
  api.answers["POST /api/depth-squares/q/readings"] = {};
  const { user } = squares(
    square({ mean_mm: 0.255, thicknesses_mm: [0.25, 0.26], reading_id: "r1", initials: "IM", earlier: 1 }),
  );
  expect(screen.getByText(/0\.25, 0\.26 · IM · corrected once/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Correct D-001" }));
  const field = screen.getByLabelText<HTMLInputElement>("Thickness of D-001");
  expect(field.value).toBe("0.25  0.26");
  await user.type(screen.getByLabelText("Why it is corrected"), "calipers not zeroed");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() =>
    expect(sent("POST", "/api/depth-squares/q/readings")).toMatchObject({
      supersedes_id: "r1",
      reason: "calipers not zeroed",
    }),
  );
});

test("a simulated printer measures its squares itself; taking one out can be undone", async () => {
  Object.assign(api.answers, {
    "POST /api/depth-squares/q/virtual-reading": { thicknesses_mm: [0.24, 0.25] },
    "POST /api/depth-squares/q/gone": {},
    "POST /api/depth-squares/q/found": {},
  });
  const { user } = squares(square(), { simulated: true });
  await user.click(screen.getByRole("button", { name: "Let the simulated reader measure" }));
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("Thickness of D-001").value).toBe("0.24  0.25"));
  await user.click(screen.getByRole("button", { name: "Remove D-001" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/depth-squares/q/found")).toHaveLength(1));
});

const FINDINGS = [
  { key: "parts-fail", seen: "Coupons pass, parts fail", suspect: "supports", advice: "Turn the part." },
  {
    key: "too-little",
    seen: "Small, soft, detail missing",
    suspect: "too little light",
    advice: "Use longer exposures.",
  },
];
const confirmed = (changes: object = {}) => ({
  confirmations: [],
  confirmed_s: [],
  window_s: [2.2, 4],
  worst_place: "Lower left, 86 % of the light.",
  findings: FINDINGS,
  ...changes,
});
const confirm = (held: object, chosen: number | null = 2.9, changes: object = {}) => {
  api.answers["GET /api/calibrations/c/confirm"] = held;
  api.answers["GET /api/printers/r/plate"] = {
    printer: "Cormorant",
    plate_x_mm: 120,
    plate_y_mm: 68,
    map: null,
    result: null,
    defects: [],
  };
  api.answers["POST /api/calibrations/c/confirm"] = held;
  const onStep = vi.fn();
  const shown = <ConfirmStage calibration={calibration(changes)} arm={arm()} chosen={chosen} onStep={onStep} />;
  return { ...show(shown), onStep };
};
const passed = (place: string) => ({
  id: place,
  code: "F-001",
  exposure_s: 2.9,
  place,
  what: "support coupon",
  finding: null,
  note: "",
  outside_reason: null,
  initials: "IM",
  confirmed_at: "2026-01-21T09:00:00Z",
});

test("it passes at the centre first, then at the worst place, which is named", async () => {
  const { user, unmount } = confirm(confirmed());
  expect((await screen.findByLabelText<HTMLSelectElement>("Where on the plate")).value).toBe("centre");
  expect(screen.getByRole("button", { name: "Record" })).toHaveProperty("disabled", true);
  await user.click(screen.getByLabelText("nothing: it passed"));
  await user.click(screen.getByRole("button", { name: "Record that it passed" }));
  await waitFor(() =>
    expect(sent("POST", "/api/calibrations/c/confirm")).toEqual({
      arm_id: "a",
      exposure_s: 2.9,
      place: "centre",
      what: "support coupon",
      finding: null,
      note: "",
      outside_reason: null,
    }),
  );
  unmount();
  confirm(confirmed({ confirmations: [passed("centre")] }));
  expect(await screen.findByText("Lower left, 86 % of the light.")).toBeTruthy();
});

test("confirmed at both places the way leads on; before it may be gone without", async () => {
  const { user, onStep, unmount } = confirm(
    confirmed({ confirmations: [passed("centre"), passed("worst place")], confirmed_s: [2.9] }),
  );
  await user.click(await screen.findByRole("button", { name: "Go on to Issue" }));
  expect(onStep).toHaveBeenCalledWith("issue");
  unmount();
  confirm(confirmed());
  expect(await screen.findByRole("button", { name: "Skip confirmation" })).toBeTruthy();
});

test("a finding says what to suspect before the exposure", async () => {
  const { user } = confirm(confirmed());
  await user.click(await screen.findByLabelText("coupons pass, parts fail"));
  expect(screen.getByText(/Suspect supports\. Turn the part\./)).toBeTruthy();
});

test("before the first print the plate and the coupon to print are drawn", async () => {
  api.answers["GET /api/printers"] = { items: [{ id: "r", name: "Cormorant", pixel_um: 35 }] };
  const plan = { title: "Support coupon", width_mm: 30, height_mm: 20, shapes: [], features: [], parts: [] };
  api.answers["GET /api/coupon-drawing"] = { plan };
  confirm(confirmed());
  expect(await screen.findByRole("img", { name: /Plate of Cormorant: no map/ })).toBeTruthy();
  expect(screen.getByText("centre", { selector: "text" })).toBeTruthy();
  expect((await screen.findByRole("link", { name: "Files of the support coupon" })).getAttribute("href")).toBe(
    "/shelf/coupons/support?printer=r&layer=50",
  );
});

test("a simulated print fills in what it showed, and saves nothing", async () => {
  api.answers["POST /api/arms/a/virtual-confirmation"] = {
    what: "flat coupon, simulated",
    finding: "too-little",
    note: "Outside the limits: thin walls.",
  };
  const { user } = confirm(confirmed(), 2.9, { simulated: true });
  await user.click(await screen.findByRole("button", { name: "Print it on the simulated printer" }));
  expect(await screen.findByDisplayValue("Outside the limits: thin walls.")).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("small, soft, detail missing").checked).toBe(true);
  expect(api.of("POST", "/api/calibrations/c/confirm")).toHaveLength(0);
});

test("outside the window a reason is asked for", async () => {
  const { user } = confirm(confirmed(), 4.6);
  await user.type(await screen.findByLabelText("Why outside the window"), "a thick part");
  await user.click(screen.getByLabelText("nothing: it passed"));
  await user.click(screen.getByRole("button", { name: "Record that it passed" }));
  await waitFor(() =>
    expect(sent("POST", "/api/calibrations/c/confirm")).toMatchObject({
      exposure_s: 4.6,
      outside_reason: "a thick part",
    }),
  );
});

const SETTINGS = {
  base_layers: 4,
  base_exposure_s: 24,
  transition_layers: 3,
  rest_before_s: 1,
  rest_after_lift_s: 0,
  rest_after_retract_s: 0,
  lift_mm: 6,
  lift_mm_min: 60,
  retract_mm_min: 150,
  light_power_pct: 100,
  anti_aliasing: 0,
};

test("another arm is called after the one thing it changes", async () => {
  api.answers["POST /api/calibrations/c/arms"] = { arms: [{ number: 1 }, { number: 2 }] };
  const onStarted = vi.fn();
  const { user } = show(
    <ArmDialog
      calibration={calibration()}
      from={arm({ settings: SETTINGS })}
      onClose={vi.fn()}
      onStarted={onStarted}
    />,
  );
  const rest = screen.getByLabelText("Rest before exposure");
  await user.clear(rest);
  await user.type(rest, "4");
  await user.click(screen.getByRole("button", { name: /Start/ }));
  await waitFor(() => expect(onStarted).toHaveBeenCalledWith(2));
  expect(sent("POST", "/api/calibrations/c/arms")).toMatchObject({
    name: "rest before exposure 4 s",
    settings: { rest_before_s: 4, base_exposure_s: 24 },
  });
});

const LIMITS = {
  growth_tol_um: 45,
  growth_target_um: 0,
  walls_size_mm: 0.21,
  walls_probability: 0.9,
  slots_size_mm: 0.35,
  slots_probability: 0.9,
  tips_size_mm: 0.42,
  tips_probability: 0.95,
  tips_per_part: null,
  z_bloom_max_um: null,
  fail_tip_size_mm: null,
};

const asked = (key: string, label: string, more: object = {}) => ({
  key,
  label,
  unit: "",
  kind: "number",
  hint: "",
  empty: null,
  sizes_mm: null,
  ...more,
});
const ASKED = {
  walls_mm: [0.14, 0.21],
  slots_mm: [],
  tips_mm: [],
  fields: [
    asked("growth_tol_um", "Edges within ±", { unit: "µm" }),
    asked("walls_size_mm", "Thinnest wall", { unit: "mm", kind: "size", sizes_mm: [0.14, 0.21] }),
    asked("walls_probability", "Share that must stand", { unit: "%", kind: "share", empty: 0 }),
    asked("lettering_mm", "Least lettering", { unit: "mm", hint: "A lane that came later" }),
  ],
};

test("limits are asked for as the lanes say: sizes to choose, shares in percent, and one nobody here knew of", async () => {
  api.answers["PUT /api/calibrations/c/limits"] = { version: 4 };
  const { user } = show(
    <LimitsDialog calibration={calibration({ limits: LIMITS, series: ASKED })} onClose={vi.fn()} />,
  );
  await user.selectOptions(screen.getByLabelText("Thinnest wall"), "0.14 mm");
  const stand = screen.getByLabelText("Share that must stand");
  expect((stand as HTMLInputElement).value).toBe("90");
  await user.clear(stand);
  await user.type(stand, "95");
  await user.type(screen.getByLabelText("Least lettering"), "0.8");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() =>
    expect(sent("PUT", "/api/calibrations/c/limits")).toMatchObject({
      limits: { walls_size_mm: 0.14, walls_probability: 0.95, lettering_mm: 0.8, slots_size_mm: 0.35 },
    }),
  );
});

test("before the printer is known, nothing can be asked for", () => {
  show(<LimitsFields limits={null} fields={undefined} onChange={vi.fn()} errors={{}} />);
  expect(screen.getByText(/sizes are those its pixels draw/)).toBeTruthy();
});

test("limits are changed with the version they were read at, and can be had back", async () => {
  api.answers["PUT /api/calibrations/c/limits"] = { version: 4 };
  const onClose = vi.fn();
  const { user } = show(
    <LimitsDialog
      calibration={calibration({
        limits: LIMITS,
        series: ASKED,
      })}
      onClose={onClose}
    />,
  );
  const edges = screen.getByLabelText("Edges within ±");
  await user.clear(edges);
  await user.type(edges, "0.06 mm");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(sent("PUT", "/api/calibrations/c/limits")).toMatchObject({
    version: 3,
    limits: { growth_tol_um: 60, walls_probability: 0.9 },
    guard_band_pct: 5,
  });
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() =>
    expect(sent("PUT", "/api/calibrations/c/limits")).toMatchObject({ version: 4, limits: { growth_tol_um: 45 } }),
  );
});

test("a limit nobody can read is not sent", async () => {
  const { user } = show(
    <LimitsDialog calibration={calibration({ limits: LIMITS, series: ASKED })} onClose={vi.fn()} />,
  );
  const edges = screen.getByLabelText("Edges within ±");
  await user.clear(edges);
  await user.type(edges, "wide");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(api.sent).toEqual([]);
});

test("what the server refuses stands at its field", async () => {
  api.answers["PUT /api/calibrations/c/limits"] = new Refusal(422, "No.", {
    "limits.growth_tol_um": "Between 1 and 500.",
  });
  const { user } = show(
    <LimitsDialog calibration={calibration({ limits: LIMITS, series: ASKED })} onClose={vi.fn()} />,
  );
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await screen.findByText("Between 1 and 500.")).toBeTruthy();
});
