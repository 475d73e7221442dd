import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import FlowPage from "./FlowPage";
import { bestBy } from "./useMaterial";
import { WarmPlan } from "./WarmPlan";
import WarmRunPage from "./WarmRunPage";
import WarmStartPage from "./WarmStartPage";

const chamber = (changes: object = {}) => ({
  printer: "Cormorant",
  curve_c: [
    [0, 7],
    [1680, 25],
  ],
  stays_above_floor: true,
  lowest_c: 22.6,
  lid_loss_c: 5,
  lid_minutes: 11,
  above_floor_after_s: 420,
  ...changes,
});
const plan = (changes: object = {}) => ({
  possible: true,
  warnings: [{ code: "hot", message: "Left on it passes 30 °C." }],
  energy_kwh: 0.046,
  cost: null,
  takes_s: 2460,
  bath: null,
  chambers: [chamber()],
  steps: [
    { at_s: 0, kind: "heat", words: "Heater on at Cormorant", caution: "Clear space round the heater." },
    { at_s: 2460, kind: "start", words: "Start Cormorant", caution: "" },
  ],
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  wide();
  api = fakeApi({
    "GET /api/chamber-fits": { items: [{ id: "f", printer_id: "r", printer: "Cormorant", heater_id: "h" }] },
    "GET /api/heaters": { items: [{ id: "h", name: "Panel heater", watts: 60, cut_out: true }] },
    "GET /api/test-materials": {
      items: [
        {
          id: "m",
          name: "Slate 2",
          sets: [
            {
              code: "S-001",
              printer_id: "r",
              printer: "Cormorant",
              temp_low_c: 21,
              temp_high_c: 27,
              layer_height_um: 50,
            },
          ],
        },
      ],
    },
    "GET /api/room": { room: { temp_c: 6.8, probe: "Shed wall" }, stale: false },
    "GET /api/bottles": { items: [{ id: "b", code: "B-001", material: "Slate 2", left_ml: 730 }] },
    "GET /api/warm-starts": { items: [] },
    "POST /api/warm-starts/quote": { plan: plan() },
    "POST /api/warm-starts": { code: "W-001" },
  });
});
const steps = () =>
  within(screen.getByRole("list", { name: "Steps" }))
    .getAllByRole("listitem")
    .map((one) => one.textContent.replace(/\s/g, " "));

test("a plan's steps count from now, each with the caution where the danger is", () => {
  show(<WarmPlan plan={plan() as never} />);
  expect(steps()).toEqual(["nowHeater on at CormorantClear space round the heater.", "+41 minStart Cormorant"]);
  expect(screen.getByText("Left on it passes 30 °C.")).toBeTruthy();
});

test("once begun they stand at their hours", () => {
  const begun = "2026-01-21T08:40:00Z";
  show(<WarmPlan plan={plan() as never} begun={begun} />);
  const hour = (second: number) =>
    new Date(Date.parse(begun) + 1000 * second).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  expect(steps().map((one) => one.slice(0, 5))).toEqual([hour(0), hour(2460)]);
});

test("what falls below its floor is marked; several chambers are named", () => {
  show(
    <WarmPlan
      plan={
        plan({
          chambers: [
            chamber({ stays_above_floor: false, lowest_c: 19.2, above_floor_after_s: null }),
            chamber({ printer: "Gannet" }),
          ],
          cost: 0.004,
        }) as never
      }
    />,
  );
  expect(screen.getByText(/▲ 19\.2/)).toBeTruthy();
  expect(screen.getByText("Cormorant: coldest through the base layers")).toBeTruthy();
  expect(screen.getByText("for good")).toBeTruthy();
  expect(screen.getByText(/less than 0\.01/)).toBeTruthy();
});

test("what is not possible has warnings and no steps", () => {
  show(<WarmPlan plan={plan({ possible: false }) as never} />);
  expect(screen.queryByRole("list", { name: "Steps" })).toBeNull();
});

test("the only set of the printer sets target and floor; a plan is begun as it stands", async () => {
  const { user, place } = show(<WarmStartPage />);
  expect((await screen.findByLabelText<HTMLSelectElement>("Printed with")).value).toBe("S-001");
  expect(screen.getByLabelText<HTMLInputElement>("Chamber at the start").value).toBe("24");
  expect(screen.getByLabelText<HTMLInputElement>("Not colder than").value).toBe("21");
  expect(await screen.findByText("6.8 °C by its probe")).toBeTruthy();
  await user.click(await screen.findByRole("button", { name: /^Begin now: ready in 41/ }));
  await waitFor(() => expect(place()).toBe("/climate/warm-start/W-001"));
  expect(api.of("POST", "/api/warm-starts")[0]!.body).toMatchObject({
    printers: [{ printer_id: "r", set_code: "S-001" }],
    heater_id: "h",
    target_c: 24,
    floor_c: 21,
    lid_openings: 1,
    bath: { bath_c: 40, resin_c: 6.8 },
  });
});

test("a bottle brings its own volume, and the bath may be left out", async () => {
  const { user } = show(<WarmStartPage />);
  await screen.findByText(/^B-001 Slate 2/);
  await user.selectOptions(screen.getByLabelText("Bottle"), "b");
  expect(screen.getByLabelText<HTMLInputElement>("Resin in it").value).toBe("730");
  await user.click(screen.getByLabelText("Warm the bottle in a water bath"));
  expect(screen.queryByLabelText("Resin in it")).toBeNull();
  await waitFor(() => expect(api.of("POST", "/api/warm-starts/quote").at(-1)!.body).toMatchObject({ bath: null }));
});

test("hot water is refused at its field, and nothing can be begun", async () => {
  api.answers["POST /api/warm-starts/quote"] = new Refusal(422, "No.", {
    "bath.bath_c": "Warm water of 45 °C at most.",
  });
  show(<WarmStartPage />);
  expect(await screen.findByText("Warm water of 45 °C at most.")).toBeTruthy();
  expect(screen.queryByRole("button", { name: /^Begin now/ })).toBeNull();
});

test("without a logged heating there is nothing to plan from, and a way to the log", async () => {
  api.answers["GET /api/chamber-fits"] = { items: [] };
  show(<WarmStartPage />);
  expect((await screen.findByRole("link", { name: "To the log" })).getAttribute("href")).toBe("/climate");
});

const run = (changes: object) => {
  api.answers["GET /api/warm-starts/W-001"] = {
    id: "w",
    code: "W-001",
    asked: { chambers: [{ printer: "Cormorant" }], ambient_c: 6.8, target_c: 25 },
    plan: plan(),
    begun_at: "2026-01-21T08:40:00Z",
    at: "2026-01-21T08:40:00Z",
    initials: "IM",
    ...changes,
  };
  api.answers["POST /api/warm-starts/W-001/stop"] = {};
  return show(
    <Routes>
      <Route path="/climate/warm-start/:code" element={<WarmRunPage />} />
      <Route path="*" element={null} />
    </Routes>,
    { at: "/climate/warm-start/W-001" },
  );
};

test("a begun warm start can be stopped, with what is left to do by hand, and leads to the log of the print", async () => {
  const { user, place } = run({});
  expect((await screen.findByText(/Its steps are timers/)).textContent.replace(/\s/g, " ")).toContain(
    "Cormorant from 6.8 °C to 25 °C.",
  );
  await user.click(screen.getByRole("button", { name: "Stop it" }));
  expect(await screen.findByText(/its timers are off\. Switch the heater off\./)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Start the print" }));
  expect(place()).toBe("/log/new");
});

test("a stopped one has no timers and is not stopped again", async () => {
  run({ begun_at: null });
  expect(await screen.findByText(/Its timers are off/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Stop it" })).toBeNull();
});

const flow = (changes: object = {}) => ({
  material_id: "m",
  material: "Slate 2",
  unit: "mPa·s",
  missing: null,
  readings: [{ id: "1", temp_c: 8, value: 1050, unit: "mPa·s", initials: "IM" }],
  result: {
    temp_for_target_c: 22.6,
    temp_for_target_ci_c: [21.9, 23.3],
    activation_energy_kj_mol: 50.2,
    fitted_range_c: [8, 30],
    warnings: [],
    curve: { temp_c: [8, 30], value: [1040, 222], low: [1000, 210], high: [1090, 235] },
  },
  ...changes,
});

test("how warm it must be to flow as wanted is said with its uncertainty and what it rests on", async () => {
  Object.assign(api.answers, {
    "GET /api/climate-materials": { items: [{ id: "m", name: "Slate 2", flow_readings: 1 }] },
    "GET /api/materials/m/flow": flow(),
  });
  const { user } = show(<FlowPage />);
  await user.type(await screen.findByLabelText("Wanted viscosity"), "350");
  expect((await screen.findByText(/Warm it to/)).textContent.replace(/\s/g, " ")).toContain(
    "23 °C (21.9 to 23.3 °C) for 350 mPa·s.",
  );
  expect(screen.getByText(/Activation energy 50/)).toBeTruthy();
});

test("a flow reading is withdrawn with a reason", async () => {
  Object.assign(api.answers, {
    "GET /api/climate-materials": { items: [{ id: "m", name: "Slate 2", flow_readings: 1 }] },
    "GET /api/materials/m/flow": flow(),
    "POST /api/flow-readings/1/withdraw": { id: "1" },
  });
  const { user } = show(<FlowPage />);
  await user.click(await screen.findByRole("button", { name: "Withdraw the reading at 8\u2009°C" }));
  await user.type(screen.getByLabelText("Why"), "cup not emptied");
  await user.click(screen.getByRole("button", { name: "Withdraw it" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/flow-readings/1/withdraw")[0]?.body).toEqual({ reason: "cup not emptied" }),
  );
});

test("the best known material is looked at first", () => {
  expect(
    bestBy(
      [
        { id: "a", flow_readings: 1 },
        { id: "b", flow_readings: 5 },
      ] as never,
      (one) => (one as unknown as { flow_readings: number }).flow_readings,
    )!.id,
  ).toBe("b");
});
