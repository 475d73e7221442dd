import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import BatchPage from "./BatchPage";
import { NewDye } from "./NewDye";
import NewRecipePage from "./NewRecipePage";
import SeriesPage from "./SeriesPage";
import { VatEntryForm } from "./VatEntryForm";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  wide();
  api = fakeApi({
    "GET /api/bottles": {
      items: [
        { id: "b1", code: "B-001", material: "Slate 2", lot: "SL-1", left_ml: 730 },
        { id: "b2", code: "B-006", material: "Ironwrack", lot: "IR-1", left_ml: 90 },
      ],
    },
    "POST /api/printers/r/vat/preview": {
      layers: [{ material_id: "m", material: "Slate 2", volume_ml: 220, fraction: 1, lots: [] }],
      volume_ml: 220,
      was: null,
      becomes: "Slate 2",
      mixes: false,
      touched: [],
    },
    "POST /api/printers/r/vat": { volume_ml: 220, ledger: [{ id: "e", can_withdraw: true }] },
  });
});

const VAT = {
  printer_id: "r",
  printer: "Cormorant",
  capacity_ml: 260,
  fill_line_ml: 220,
  volume_ml: 0,
  layers: [],
  ledger: [],
};
const entry = (vat: object = {}, first: object = {}) => {
  const onClose = vi.fn();
  return { ...show(<VatEntryForm vat={{ ...VAT, ...vat } as never} first={first} onClose={onClose} />), onClose };
};
const volume = () => screen.getByLabelText<HTMLInputElement>("Volume");

test("a bottle fills the vat up to its line, as far as the bottle goes", async () => {
  const { user } = entry();
  await screen.findByText(/^B-001/);
  await user.selectOptions(screen.getByLabelText("From"), "b1");
  expect(volume().value).toBe("220");
});

test("what is in the vat already, and a bottle with little left, make it less", async () => {
  const { user, unmount } = entry({ volume_ml: 170 });
  await screen.findByText(/^B-001/);
  await user.selectOptions(screen.getByLabelText("From"), "b1");
  expect(volume().value).toBe("50");
  unmount();
  const second = entry();
  await screen.findByText(/^B-006/);
  await second.user.selectOptions(screen.getByLabelText("From"), "b2");
  expect(volume().value).toBe("90");
});

test("a volume somebody gave is not replaced by another bottle's", async () => {
  const { user } = entry({}, { volume_ml: 60 });
  await screen.findByText(/^B-001/);
  await user.selectOptions(screen.getByLabelText("From"), "b1");
  expect(volume().value).toBe("60");
});

test("the first pour into an empty vat fills it; what it becomes is said before it is noted", async () => {
  const { user, onClose } = entry();
  await screen.findByText(/^B-001/);
  await user.selectOptions(screen.getByLabelText("From"), "b1");
  expect((await screen.findByText(/Then in the vat:/)).textContent).toContain("Slate 2, 220");
  await user.click(screen.getByRole("button", { name: "Record it" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(api.of("POST", "/api/printers/r/vat")[0]!.body).toMatchObject({
    kind: "fill",
    volume_ml: 220,
    bottle_id: "b1",
  });
});

test("a mixture nobody has named wants a name or a stated contamination, and says which sets lapse", async () => {
  api.answers["POST /api/printers/r/vat/preview"] = {
    layers: [
      { material: "Slate 2", fraction: 0.7, volume_ml: 154 },
      { material: "Ironwrack", fraction: 0.3, volume_ml: 66 },
    ],
    volume_ml: 220,
    was: "Slate 2",
    becomes: null,
    mixes: true,
    touched: [{ set_code: "S-001", material: "Slate 2", printer: "Cormorant" }],
  };
  const { user } = entry({ volume_ml: 154 });
  await screen.findByText(/^B-006/);
  await user.selectOptions(screen.getByLabelText("From"), "b2");
  expect((await screen.findByText(/Sets that lapse/)).textContent).toContain("S-001 (Slate 2 on Cormorant)");
  expect(screen.getByText("70 % Slate 2, 30 % Ironwrack")).toBeTruthy();
  const note = screen.getByRole<HTMLButtonElement>("button", { name: "Record it" });
  expect(note.disabled).toBe(true);
  await user.type(screen.getByLabelText("or state it as a contamination"), "The wrong bottle.");
  expect(note.disabled).toBe(false);
});

test("too much is said at its field, and nothing is noted", async () => {
  api.answers["POST /api/printers/r/vat/preview"] = new Refusal(422, "No.", { volume_ml: "The vat holds 260 ml." });
  const { user } = entry({}, { bottle_id: "b1", volume_ml: 400 });
  expect(await screen.findByText("The vat holds 260 ml.")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Record it" }).disabled).toBe(true);
  await user.selectOptions(screen.getByLabelText("What"), "Empty and clean");
  expect(screen.queryByLabelText("Volume")).toBeNull();
});

test("a drain goes to waste or through a strainer into a bottle", async () => {
  const { user } = entry({ volume_ml: 100 }, { kind: "drain", volume_ml: 40 });
  await screen.findByText(/^B-001/);
  expect(screen.queryByLabelText("From")).toBeNull();
  await user.selectOptions(screen.getByLabelText("Through a strainer into"), "b1");
  await waitFor(() =>
    expect(api.of("POST", "/api/printers/r/vat/preview").at(-1)!.body).toMatchObject({
      kind: "drain",
      to_bottle_id: "b1",
      bottle_id: null,
    }),
  );
});

const batch = (changes: object = {}) => ({
  id: "m1",
  code: "M-003",
  blend_id: "x",
  blend: "Hullform + 10 % Kelpflex",
  volume_ml: 300,
  tolerance_pct: 1,
  planned_at: "2026-01-21T08:00:00Z",
  initials: "IM",
  cup_at: null,
  cup_finding: null,
  cup_looked_at: null,
  cup_hours: 12,
  cup_stood_h: null,
  poured_at: null,
  stirred_at: null,
  stir_min: 5,
  bottle_id: null,
  bottle_code: null,
  cancelled_at: null,
  cancelled_reason: null,
  note: "",
  next: "cup",
  pours: [
    {
      number: 1,
      part_id: "h",
      part: "Hullform",
      bottle_code: "B-003",
      lot: "HU-1",
      planned_ml: 270,
      planned_g: 302.4,
      total_g: 302.4,
      poured_ml: null,
      real_fraction: null,
      off: false,
    },
  ],
  ...changes,
});
const page = (held: object) => {
  api.answers["GET /api/batches/M-003"] = held;
  return show(
    <Routes>
      <Route path="/blend/batches/:code" element={<BatchPage />} />
    </Routes>,
    { at: "/blend/batches/M-003" },
  );
};
const section = async (name: string) => within(await screen.findByRole("region", { name }));

test("a cup trial comes first, and a timer says when to look", async () => {
  api.answers["POST /api/batches/m1/cup"] = batch({ next: "look" });
  api.answers["POST /api/timers"] = {};
  const { user } = page(batch());
  await user.click((await section("Cup trial")).getByRole("button", { name: "Trial started" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/timers")[0]?.body).toEqual({
      name: "Look at the cup of M-003",
      seconds: 43_200,
      place: "/blend/batches/M-003",
    }),
  );
});

test.each([
  [0.1, /looked at after less than an hour; 12 are asked for/],
  [3.4, /looked at after 3 hours; 12 are asked for/],
])("a cup that was looked at too soon says so", async (hours, said) => {
  page(
    batch({
      next: "pour",
      cup_at: "2026-01-21T08:00:00Z",
      cup_finding: "fine",
      cup_looked_at: "2026-01-21T09:00:00Z",
      cup_stood_h: hours,
    }),
  );
  expect((await section("Cup trial")).getByText(said)).toBeTruthy();
});

test("a cup that stood long enough needs no word", async () => {
  page(batch({ next: "pour", cup_finding: "fine", cup_looked_at: "2026-01-21T21:00:00Z", cup_stood_h: 12.5 }));
  expect((await section("Cup trial")).queryByText(/asked for/)).toBeNull();
});

test("what was really poured is sent, planned amounts where nothing else was said", async () => {
  api.answers["POST /api/batches/m1/poured"] = batch({ next: "stir", bottle_code: "B-008" });
  api.answers["POST /api/timers"] = {};
  const { user } = page(batch({ next: "pour", cup_finding: "fine" }));
  const pours = await section("Pours");
  await user.clear(pours.getByLabelText("Really poured, Hullform"));
  await user.type(pours.getByLabelText("Really poured, Hullform"), "0.265 kg");
  await user.click(pours.getByRole("button", { name: "Poured" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/batches/m1/poured")[0]?.body).toEqual({ poured_ml: null, poured_g: [265] }),
  );
});

const member = (fraction: number, changes: object = {}) => ({
  fraction,
  material_id: `m${fraction}`,
  name: "",
  price_per_l: 79 - 10 * fraction,
  sets: [],
  set_state: null,
  values: { "flexing.cycles": [100, 110] },
  ...changes,
});
const series = (changes: object = {}) => ({
  id: "g",
  code: "G-001",
  name: "Tougher hinge",
  base: "Ironwrack",
  additive: "Kelpflex",
  brief: "Tough hinge",
  brief_id: "t",
  max_fraction: 0.3,
  words: "13.8 to 25.1 % meets it.",
  chosen: null,
  suggested: [0.14],
  replicate: 0.24,
  response: null,
  properties: [
    {
      key: "flexing.cycles",
      name: "Flexes to break",
      unit: "cycles",
      at: "least",
      limit: 600,
      kind: "must",
      points: 4,
    },
  ],
  members: [member(0), member(0.18, { sets: ["S-009"], set_state: "valid" })],
  ...changes,
});
const shown = (held: object) => {
  api.answers["GET /api/blend-series/G-001"] = held;
  return show(
    <Routes>
      <Route path="/blend/series/:code" element={<SeriesPage />} />
    </Routes>,
    { at: "/blend/series/G-001" },
  );
};

test("a series leads to the set of the fraction that was chosen, or to its calibration", async () => {
  const { unmount } = shown(series({ chosen: { fraction: 0.18, material_id: "m", sets: ["S-009"] } }));
  expect((await screen.findByRole("link", { name: /^Open S-009 · 18 %/ })).getAttribute("href")).toBe("/sets/S-009");
  unmount();
  shown(series({ chosen: { fraction: 0.18, material_id: "m", sets: [] } }));
  expect((await screen.findByRole("link", { name: /^Calibrate · 18 %/ })).getAttribute("href")).toBe(
    "/calibrate/new?material=m",
  );
});

test("each fraction says how far it is tested and calibrated, and all of them go into a test", async () => {
  shown(series());
  const rows = within(await screen.findByRole("table", { name: "Fractions" })).getAllByRole("row");
  expect(rows[1]!.textContent).toContain("calibrate1 of 1");
  expect(rows[2]!.textContent).toContain("S-009");
  expect(screen.getByRole("link", { name: "Plan a test of these" }).getAttribute("href")).toBe(
    "/test/new?brief=t&material=m0&material=m0.18",
  );
  expect(screen.getByText("More specimens at 24 % would narrow the edge most.")).toBeTruthy();
});

test("a fraction is added from what is suggested or as one likes; a wrong one is said at its field", async () => {
  api.answers["POST /api/blend-series/g/fractions"] = ({ body }: { body: { fraction: number } }) =>
    body.fraction < 0.3 ? series() : new Refusal(422, "No.", { fraction: "Up to 30 %." });
  const { user } = shown(series());
  await user.click(await screen.findByRole("button", { name: "Add 14 %" }));
  await user.type(screen.getByLabelText("Another share"), "40");
  await user.click(screen.getByRole("button", { name: "Add" }));
  expect(await screen.findByText("Up to 30 %.")).toBeTruthy();
  expect(api.of("POST", "/api/blend-series/g/fractions").map((one) => one.body)).toEqual([
    { fraction: 0.14, forbidden_reason: null },
    { fraction: 0.4, forbidden_reason: null },
  ]);
});

test("a dye's effect is asked where it was measured, and is given on in percent", async () => {
  const onMade = vi.fn();
  api.answers["POST /api/dyes"] = { id: "d" };
  const { user } = show(<NewDye onMade={onMade} onClose={() => undefined} />);
  await user.type(screen.getByLabelText("Name"), "Rust");
  await user.type(screen.getByLabelText("What it is"), "oil dye");
  expect(screen.queryByLabelText("Measured how")).toBeNull();
  await user.type(screen.getByLabelText(/exposure rises for each percent/), "35");
  await user.type(screen.getByLabelText("Measured how"), "three strips");
  await user.click(screen.getByRole("button", { name: "Add it" }));
  await waitFor(() => expect(onMade).toHaveBeenCalledWith("d"));
  expect(api.of("POST", "/api/dyes")[0]!.body).toMatchObject({ exposure_pct_per_percent: 35, basis: "three strips" });
});

test("a dye that is added while a recipe is written leaves the recipe unwritten", async () => {
  const ingredients = [
    { id: "a", name: "Ironwrack", kind: "resin" },
    { id: "b", name: "Kelpflex", kind: "resin" },
  ];
  Object.assign(api.answers, {
    "GET /api/ingredients": { items: ingredients },
    "POST /api/blends/quote": new Refusal(409, "Nothing is quoted here."),
    "POST /api/dyes": () => (ingredients.push({ id: "d", name: "Rust", kind: "dye" }), { id: "d" }),
  });
  const { user, place } = show(<NewRecipePage />, { at: "/blend/new" });
  await user.click(await screen.findByRole("button", { name: "A new dye…" }));
  await user.type(within(screen.getByRole("dialog")).getByLabelText("Name"), "Rust");
  await user.type(within(screen.getByRole("dialog")).getByLabelText("What it is"), "oil dye{Enter}");
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(api.of("POST", "/api/dyes")).toHaveLength(1);
  expect(api.of("POST", "/api/blends")).toEqual([]);
  expect(place()).toBe("/blend/new");
});
