import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import FlowPage from "./FlowPage";
import WarmRunPage from "./WarmRunPage";

const reading = (id: string, temp_c: number, value: number, unit = "mPa·s") => ({
  id,
  temp_c,
  value,
  unit,
  initials: "IM",
});
const curve = { temp_c: [8, 30], value: [1050, 225], low: [1000, 210], high: [1100, 240] };
const flow = (changes: object = {}, result: object | null = {}) => ({
  material_id: "m",
  material: "Slate 2",
  unit: "mPa·s",
  readings: [reading("f1", 8, 1050), reading("f2", 30, 225)],
  missing: null,
  result: result && {
    curve,
    temp_for_target_c: null,
    temp_for_target_ci_c: null,
    activation_energy_kj_mol: 50.2,
    fitted_range_c: [8, 30],
    warnings: [],
    ...result,
  },
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  wide();
  api = fakeApi({
    "GET /api/climate-materials": {
      items: [
        { id: "m", name: "Slate 2", flow_readings: 5 },
        { id: "t", name: "Tideglass", flow_readings: 0 },
      ],
    },
    "GET /api/materials/m/flow": flow(),
  });
});
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");
async function shown(held: unknown = flow()) {
  api.answers["GET /api/materials/m/flow"] = held;
  const drawn = show(<FlowPage />, { at: "/climate/flow?material=m" });
  await screen.findByRole("form", { name: "New flow reading" });
  return drawn;
}

test("the curve names its energy and between which temperatures it was measured", async () => {
  await shown();
  await waitFor(() => expect(text("Curve")).toContain("Activation energy 50 kJ/mol; measured between 8 and 30 °C."));
});

test("too few readings are said instead of a curve", async () => {
  await shown(flow({ readings: [reading("f1", 8, 1050)], missing: "Two temperatures or more make a curve." }, null));
  await waitFor(() => expect(text("Curve")).toBe("Two temperatures or more make a curve."));
});

test("a wish nobody can meet is refused at its field, and the readings stay", async () => {
  const { user } = await shown();
  api.answers["GET /api/materials/m/flow"] = new Refusal(422, "Thinner than ever measured.", {
    target: "Thinner than it gets by 30 °C.",
  });
  await user.type(screen.getByLabelText("Wanted viscosity"), "1");
  expect(await screen.findByText("Thinner than it gets by 30 °C.")).toBeTruthy();
});

test("a cup's seconds are another unit, and are asked for as such", async () => {
  const { user } = await shown();
  api.answers["GET /api/materials/m/flow"] = flow(
    { unit: "s", readings: [reading("s1", 20, 44, "s")], missing: "One reading is no curve." },
    null,
  );
  await user.selectOptions(screen.getByLabelText("Measured in"), "seconds of one flow cup");
  expect(await screen.findByLabelText("Seconds of the cup")).toBeTruthy();
  expect(api.of("GET", "/api/materials/m/flow").at(-1)!.query).toEqual({ unit: "s" });
});

test("a reading is added and its fields are empty for the next; a wrong one keeps its number", async () => {
  api.answers["POST /api/flow-readings"] = reading("f3", 20, 425);
  const { user } = await shown();
  const form = within(screen.getByRole("form", { name: "New flow reading" }));
  expect(form.getByRole("button", { name: "Add" })).toHaveProperty("disabled", true);
  await user.type(form.getByLabelText("At"), "20");
  await user.type(form.getByLabelText("Viscosity"), "425");
  await user.click(form.getByRole("button", { name: "Add" }));
  await waitFor(() => expect(form.getByLabelText("Viscosity")).toHaveProperty("value", ""));
  expect(api.of("POST", "/api/flow-readings")[0]!.body).toEqual({
    material_id: "m",
    temp_c: 20,
    value: 425,
    unit: "mPa·s",
  });
  api.answers["POST /api/flow-readings"] = new Refusal(422, "No.", { value: "Give at most 100000." });
  await user.type(form.getByLabelText("At"), "20");
  await user.type(form.getByLabelText("Viscosity"), "900000");
  await user.click(form.getByRole("button", { name: "Add" }));
  expect(await form.findByText("Give at most 100000.")).toBeTruthy();
  expect(form.getByLabelText("Viscosity")).toHaveProperty("value", "900000");
});

const plan = { possible: true, steps: [], warnings: [], curve: null, chambers: [], cost: null, energy_kwh: null };
const run = (changes: object = {}) => ({
  code: "W-001",
  begun_at: "2026-01-21T08:00:00Z",
  at: "2026-01-21T07:55:00Z",
  initials: "IM",
  asked: { chambers: [{ printer: "Cormorant" }, { printer: "Gannet" }], ambient_c: 6.84, target_c: 24 },
  plan,
  ...changes,
});
async function begun(held: unknown) {
  api.answers["GET /api/warm-starts/W-001"] = held;
  const drawn = show(
    <Routes>
      <Route path="/climate/warm-start/:code" element={<WarmRunPage />} />
      <Route path="*" element={<p>elsewhere</p>} />
    </Routes>,
    { at: "/climate/warm-start/W-001" },
  );
  if (!(held instanceof Refusal)) await screen.findByRole("region", { name: "The plan" });
  return drawn;
}

test("a begun warm start says from where to where, by whom, and that its steps are timers", async () => {
  await begun(run());
  expect(text("The plan")).toMatch(
    /Cormorant, Gannet from 6.8 °C to 24 °C\. Begun 21 Jan.* by IM\. Its steps are timers in the bar above\./,
  );
  expect(screen.getByRole("link", { name: "Warm start" }).getAttribute("aria-current")).toBe("page");
});

test("one that cannot be stopped says why and stays as it is", async () => {
  api.answers["POST /api/warm-starts/W-001/stop"] = new Refusal(409, "It is over already.");
  const { user } = await begun(run());
  await user.click(screen.getByRole("button", { name: "Stop it" }));
  expect(await screen.findByText("It is over already.")).toBeTruthy();
  expect(text("The plan")).toContain("Begun");
});

test("a warm start nobody planned is said to be missing", async () => {
  await begun(new Refusal(404, "There is no warm start W-001."));
  expect(await screen.findByText("There is no warm start W-001.")).toBeTruthy();
});
