import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import BenchPage from "./BenchPage";
import { BriefForm } from "./BriefForm";
import { GroupFields } from "./GroupFields";
import { NOTHING } from "./groups";
import { done, given } from "./model";
import { NewReference } from "./NewReference";
import { PropertiesByMaterial } from "./PropertiesByMaterial";
import { TestQuoteCard } from "./TestQuoteCard";
import { WeightedIndex } from "./WeightedIndex";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/brief-templates": { items: [{ name: "Hinge", use: "2,000 swings", requirements: [] }] } });
});

test("only what was given is sent, and only what must be given keeps a reading back", () => {
  expect(given({ force_n: 12, note: "", width_mm: null, places: [], broke: false })).toEqual({
    force_n: 12,
    broke: false,
  });
  const field = (changes: object) => ({ key: "force_n", optional: false, ...changes }) as never;
  expect([
    done(field({}), {}),
    done(field({ optional: true }), {}),
    done(field({}), { force_n: 0 }),
    done(field({}), { force_n: [] }),
  ]).toEqual([false, true, true, false]);
});

const quote = (changes: object = {}) => ({
  each: 6,
  each_from: "to see 15 % at a spread of 8 %",
  prints: 2,
  prints_from: "two tell what is the print and what the material",
  sees: "As far as prints differed before, it sees 17 % in bending strength",
  specimens: 12,
  print_s: null,
  volume_ml: 33,
  bench_min: 120,
  cost: null,
  groups: [
    { number: 1, name: "Slate 2", printed: true, prints: 2, plates: 3, duration_s: 3600 },
    { number: 2, name: "Sheet", printed: false, prints: 0, plates: 0, duration_s: null },
  ],
  concerns: [],
  warnings: [],
  ...changes,
});

test("a plan says how many, why so many, and what it costs", () => {
  show(<TestQuoteCard quote={quote() as never} waiting={false} refused={null} />);
  const facts = screen.getByText("Specimens").closest("dl")!.textContent.replace(/\s/g, " ");
  expect(facts).toBe("Specimens12Printingnot knownResin33 mlAt the bench2 h");
  expect(screen.getByText(/Slate 2: 2 prints, 3 plates, 1.h/)).toBeTruthy();
  expect(screen.getByText("Sheet: bought in")).toBeTruthy();
  expect(screen.getByText("in each group, from 2 prints")).toBeTruthy();
  expect(screen.getByText(/it sees 17 %/)).toBeTruthy();
});

test("what is unfair must be answered for, what is only a warning need not", () => {
  show(
    <TestQuoteCard
      quote={
        quote({
          concerns: [{ code: "set", message: "No issued set.", must_confirm: true }],
          warnings: [{ code: "few", message: "Too few for a bound." }],
        }) as never
      }
      waiting={false}
      refused={null}
    />,
  );
  expect(screen.getByText("No issued set.").className).toContain("trouble");
  expect(screen.getByText("Too few for a bound.").className).toContain("caution");
});

test("a plan that is refused says why beside the price, and does not go on working it out", () => {
  const { rerender } = show(
    <TestQuoteCard quote={undefined} waiting={false} refused="87 in each group would be needed." />,
  );
  expect(screen.getByText("87 in each group would be needed.")).toBeTruthy();
  rerender(<TestQuoteCard quote={undefined} waiting refused={null} />);
  expect(screen.getByText(/Choose the materials/)).toBeTruthy();
});

const COLUMN = {
  key: "bend.strength",
  method: "bend",
  method_name: "Cantilever bend",
  name: "Bending strength",
  unit: "MPa",
  better: "higher",
  rated: false,
  mixed: null,
};
const cell = (changes: object = {}) => ({
  value: 59.04,
  ci: [57, 60.9],
  bound: 52.71,
  n: 9,
  decimals: 1,
  words: "",
  test_code: "T-001",
  set_code: "S-001",
  cure_min: 6,
  condition: "",
  off: 0,
  tried: null,
  named: null,
  ...changes,
});
const line = (id: string, material: string, cells: object, kind = "resin") => ({
  material_id: id,
  material,
  kind,
  price_per_l: 40,
  cells,
});
const TABLE = {
  columns: [
    COLUMN,
    { ...COLUMN, key: "flexing.cycles", name: "Flexes to break", method_name: "Flexing", unit: "cycles" },
  ],
  materials: [
    line("h", "Hullform", { "bend.strength": cell() }),
    line("s", "Sheet", { "bend.strength": cell({ value: null, named: "no issued set", tried: "3 s" }) }, "reference"),
  ],
  baseline_id: "h",
  weighed: ["bend.strength"],
} as never;

test("every property of every material has its interval, what nine in ten reach, and whether it was fair", () => {
  show(<PropertiesByMaterial table={TABLE} />);
  const [, first, second] = within(screen.getByRole("table")).getAllByRole("row");
  const text = first!.textContent.replace(/\s/g, " ");
  expect(text).toContain("59.057.0…60.9, n = 9");
  expect(text).toContain("9 in 10 ≥ 52.7");
  expect(text).toContain("none broke");
  expect(text).toContain("at 3 s");
  expect(within(first!).getByTitle("no issued set").textContent).toBe("not a fair comparison");
  expect(second!.textContent).toContain("––");
  expect(screen.queryByRole("link", { name: "Sheet" })).toBeNull();
});

const RANKED = {
  baseline: "Hullform",
  left_out: ["Tideglass"],
  mixed: [],
  costs: [],
  result: {
    ranking: [
      { name: "Sheet", index: 140, shares: [{ name: "bending", ratio: 1.4, points: 40 }] },
      { name: "Hullform", index: 100, shares: [] },
    ],
    flips: [{ criterion: "Bending strength, bend", to: "Hullform", at_weight: 0.4, weight: 1 }],
    warnings: [{ code: "one-number", message: "hides" }],
  },
};

test("the index begins with what the server would weigh, says who leads and when the lead turns", async () => {
  api.answers["POST /api/properties/index"] = RANKED;
  const { user, place } = show(<WeightedIndex table={TABLE} />);
  expect(await screen.findByText(/The lead turns/)).toBeTruthy();
  expect(screen.getByText(/to Hullform when bending strength weighs 0\.4 instead of 1/)).toBeTruthy();
  expect(screen.getByText(/Not ranked, something is not tested: Tideglass/)).toBeTruthy();
  expect(api.of("POST", "/api/properties/index")[0]!.body).toEqual({
    weights: [
      { property: "bend.strength", weight: 1 },
      { property: "flexing.cycles", weight: 0 },
    ],
    baseline_id: "h",
    confirmed: false,
  });
  await user.selectOptions(screen.getByLabelText("Baseline"), "Sheet");
  await waitFor(() => expect(place()).toContain("baseline=s"));
});

test("values that were not got alike are compared only on purpose", async () => {
  api.answers["POST /api/properties/index"] = ({ body }: { body: { confirmed: boolean } }) =>
    body.confirmed ? RANKED : new Refusal(409, "From the clamp to the load 60, 40.");
  const { user } = show(<WeightedIndex table={TABLE} />);
  expect(await screen.findByText("From the clamp to the load 60, 40.")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Compare all the same" }));
  expect(await screen.findByText(/The lead turns/)).toBeTruthy();
});

test("with no weight at all there is nothing to work out", () => {
  show(<WeightedIndex table={{ ...(TABLE as object), weighed: [] } as never} />);
  expect(screen.getByText("Give at least one property some weight.")).toBeTruthy();
  expect(api.sent).toEqual([]);
});

const PROPERTIES = [
  {
    key: "set.slot",
    group: "Parameter set",
    name: "Finest slot that stays open",
    unit: "mm",
    better: "lower",
    rated: false,
    with_amount: null,
    conditions: [],
  },
  {
    key: "flexing.cycles",
    group: "Flexing",
    name: "Flexes to break, flexing",
    unit: "cycles",
    better: "higher",
    rated: false,
    with_amount: null,
    conditions: [{ key: "temp_c", label: "Temperature of the specimen", unit: "°C", choices: [] }],
  },
  {
    key: "set.cost",
    group: "Parameter set",
    name: "Resin for one part",
    unit: "money",
    better: "lower",
    rated: false,
    with_amount: "ml",
    conditions: [],
  },
] as never;
const brief = (onClose = vi.fn()) => ({
  ...show(<BriefForm brief={null} properties={PROPERTIES} onClose={onClose} />),
  onClose,
});
const requirement = (number: number) => within(screen.getByRole("group", { name: `Requirement ${number}` }));

test("a requirement asks for the better side, in the unit of its property", async () => {
  const { user } = brief();
  await user.selectOptions(requirement(1).getByLabelText("Property"), "Finest slot that stays open");
  expect(requirement(1).getByLabelText<HTMLSelectElement>("At").value).toBe("most");
  expect(requirement(1).queryByLabelText("Judged by")).toBeNull();
  await user.selectOptions(requirement(1).getByLabelText("Property"), "Flexes to break, flexing");
  expect(requirement(1).getByLabelText<HTMLSelectElement>("At").value).toBe("least");
  expect(requirement(1).getByLabelText("Judged by")).toBeTruthy();
});

test("a requirement is removed, and comes back by undo", async () => {
  const { user } = brief();
  expect(screen.queryByRole("button", { name: "Remove requirement 1" })).toBeNull();
  await user.selectOptions(requirement(1).getByLabelText("Property"), "flexing.cycles");
  await user.type(requirement(1).getByLabelText("Limit"), "300");
  await user.click(screen.getByRole("button", { name: "One more requirement" }));
  await user.selectOptions(requirement(2).getByLabelText("Property"), "set.slot");
  await user.type(requirement(2).getByLabelText("Limit"), "50");
  await user.click(screen.getByRole("button", { name: "Remove requirement 1" }));
  expect(requirement(1).getByLabelText<HTMLSelectElement>("Property").value).toBe("set.slot");
  expect(requirement(1).getByLabelText<HTMLInputElement>("Limit").value).toBe("50");
  expect(screen.queryByRole("group", { name: "Requirement 2" })).toBeNull();
  await user.click(screen.getByRole("button", { name: "Undo" }));
  expect(requirement(1).getByLabelText<HTMLInputElement>("Limit").value).toBe("300");
  expect(requirement(2).getByLabelText<HTMLInputElement>("Limit").value).toBe("50");
});

test("a brief is kept with its lines; a line without a property is none", async () => {
  api.answers["POST /api/briefs"] = { name: "Clip", version: 1 };
  const { user, onClose } = brief();
  await user.type(screen.getByLabelText("Application"), "Clip");
  await user.selectOptions(requirement(1).getByLabelText("Property"), "flexing.cycles");
  const keep = screen.getByRole<HTMLButtonElement>("button", { name: "Save the brief" });
  expect(keep.disabled).toBe(true);
  await user.type(requirement(1).getByLabelText("Limit"), "300");
  await user.type(requirement(1).getByLabelText(/Temperature of the specimen/), "10");
  await user.click(screen.getByRole("button", { name: "One more requirement" }));
  await user.click(keep);
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(api.of("POST", "/api/briefs")[0]!.body).toEqual({
    name: "Clip",
    use: "",
    version: null,
    requirements: [
      {
        property: "flexing.cycles",
        at: "least",
        limit: 300,
        kind: "must",
        note: "",
        basis: "mean",
        margin_pct: 0,
        amount: null,
        conditions: [{ key: "temp_c", value: 10 }],
      },
    ],
  });
});

test("what a part takes is asked where the price depends on it", async () => {
  const { user } = brief();
  await user.selectOptions(requirement(1).getByLabelText("Property"), "set.cost");
  expect(requirement(1).getByLabelText("Of a part, ml")).toBeTruthy();
});

test("a brief begins from a template until it has a name", async () => {
  const { user } = brief();
  await user.click(await screen.findByRole("button", { name: "Hinge" }));
  expect(screen.getByLabelText<HTMLInputElement>("Application").value).toBe("Hinge");
  expect(screen.queryByRole("button", { name: "Hinge" })).toBeNull();
});

test("something bought in is kept with what it is", async () => {
  api.answers["POST /api/reference-materials"] = { id: "r1" };
  const onMade = vi.fn();
  const { user } = show(<NewReference onMade={onMade} onClose={() => undefined} />);
  await user.type(screen.getByLabelText("Name"), "Sheet");
  await user.type(screen.getByLabelText("What it is"), "4 mm, sawn");
  await user.click(screen.getByRole("button", { name: "Add it" }));
  await waitFor(() => expect(onMade).toHaveBeenCalledWith("r1"));
});

test("a bought-in reference that is added while a test is planned leaves the test unplanned", async () => {
  api.answers["POST /api/reference-materials"] = { id: "r1" };
  const plan = vi.fn((event: { preventDefault: () => void }) => event.preventDefault());
  const onChange = vi.fn();
  const { user } = show(
    <form onSubmit={plan}>
      <GroupFields
        number={1}
        group={NOTHING}
        method={{ conditions: [] } as never}
        materials={[]}
        errors={{}}
        place={0}
        onChange={onChange}
      />
    </form>,
  );
  await user.click(screen.getByRole("button", { name: "Bought-in reference…" }));
  await user.type(screen.getByLabelText("Name"), "Sheet");
  await user.type(screen.getByLabelText("What it is"), "4 mm, sawn{Enter}");
  await waitFor(() => expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ material_id: "r1" })));
  expect(plan).not.toHaveBeenCalled();
});

const FIELD = (key: string, label: string, changes: object = {}) => ({
  key,
  label,
  unit: "mm",
  kind: "number",
  optional: false,
  hint: "",
  usual: null,
  choices: [],
  low: 0,
  high: 100,
  ...changes,
});
const METHOD = {
  key: "cantilever-bend",
  name: "Cantilever bend",
  pattern: "single",
  against: null,
  fixture: "Clamp.",
  breaks_in: "within one height of the clamp",
  steps: [
    { do: "Measure the bar.", caution: "", reads: [FIELD("height_mm", "Height")] },
    { do: "Load it.", caution: "Eye protection.", reads: [FIELD("force_n", "Force", { unit: "N" })] },
  ],
};
const specimen = (code: string, changes: object = {}) => ({
  id: code,
  code,
  group: 1,
  turn: 1,
  print: 1,
  ready: true,
  cured_at: null,
  place: "place 4",
  gone_reason: null,
  reads: [],
  past: [],
  photos: [],
  ...changes,
});
const GROUP = {
  number: 1,
  name: "Slate 2",
  ready: true,
  set_code: "S-001",
  printer: "Cormorant",
  exposure_s: 2.9,
  cure_min: 6,
  orientation: "flat",
  prints: [],
  next_height_m: null,
};
const testView = (changes: object = {}) => ({
  id: "t",
  code: "T-008",
  method: METHOD,
  groups: [GROUP],
  specimens: [specimen("T-008-104"), specimen("T-008-105")],
  left: 2,
  age_h: null,
  closed_at: null,
  next_code: "T-008-105",
  ...changes,
});
const bench = (held: object) => {
  Object.assign(api.answers, {
    "GET /api/tests/T-008": held,
    "POST /api/specimens/T-008-104/preview": {
      values: [{ name: "Bending strength", value: 61.2, decimals: 1, unit: "MPa", unbroken: false }],
      notices: [],
    },
    "GET /api/tests/t": held,
  });
  return show(
    <Routes>
      <Route path="/test/:code/:specimen" element={<BenchPage />} />
      <Route path="*" element={null} />
    </Routes>,
    { at: "/test/T-008/T-008-104" },
  );
};

test("steps open one after the other, Enter goes on, and the last one keeps the reading", async () => {
  const after = testView({
    specimens: [
      specimen("T-008-104", {
        reads: [
          {
            id: "x",
            read: {},
            at_value: null,
            initials: "IM",
            read_at: "2026-01-21T09:00:00Z",
            note: "",
            values: [],
            withdrawn: false,
            reason: null,
          },
        ],
      }),
      specimen("T-008-105"),
    ],
  });
  const { user, place } = bench(testView());
  const height = await screen.findByLabelText<HTMLInputElement>("Height");
  expect(screen.getByLabelText<HTMLInputElement>("Force").disabled).toBe(true);
  await user.type(height, "4{Enter}");
  expect(document.activeElement).toBe(screen.getByLabelText("Force"));
  await user.type(screen.getByLabelText("Force"), "12,5{Enter}");
  expect(await screen.findByText(/61\.2/)).toBeTruthy();
  expect(document.activeElement).toBe(screen.getByRole("button", { name: "Save and next" }));
  api.answers["POST /api/specimens/T-008-104/readings"] = after;
  await user.keyboard("{Enter}");
  await waitFor(() => expect(place()).toBe("/test/T-008/T-008-105"));
  expect(api.of("POST", "/api/specimens/T-008-104/readings")[0]!.body).toEqual({
    read: { height_mm: 4, force_n: 12.5 },
    note: "",
    replaces: null,
    reason: null,
  });
});

test.each([
  [{ specimens: [specimen("T-008-104", { ready: false })] }, /is not printed and cured yet/],
  [{ specimens: [specimen("T-008-104", { gone_reason: "lost" })] }, /Gone: lost/],
])("what cannot be read is said, and its fields are shut", async (changes, said) => {
  bench(testView(changes));
  expect(await screen.findByText(said)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Height").disabled).toBe(true);
});

test("a specimen that is not in this test is said", async () => {
  bench(testView({ specimens: [] }));
  expect(await screen.findByText("There is no specimen T-008-104 in this test.")).toBeTruthy();
});

const WARPED = FIELD("warped", "Did it warp?", { kind: "yes", optional: true, unit: "" });
const OUTSIDE = FIELD("outside", "Did it break outside?", { kind: "yes", unit: "" });
test("Enter skips a question that may stay open, and answers none", async () => {
  const method = { ...METHOD, steps: [{ do: "Look at it.", caution: "", reads: [WARPED, OUTSIDE] }] };
  const { user } = bench(testView({ method }));
  const question = (name: RegExp) => within(screen.getByRole("group", { name }));
  const pressed = (name: RegExp) =>
    question(name)
      .getAllByRole("button")
      .map((one) => one.getAttribute("aria-pressed"));
  await waitFor(() => expect(document.activeElement).toBe(question(/warp/).getByRole("button", { name: "yes" })));
  await user.keyboard("{Enter}");
  expect(pressed(/warp/)).toEqual(["false", "false"]);
  expect(document.activeElement).toBe(question(/outside/).getByRole("button", { name: "yes" }));
  // One that must be answered stays until it is.
  await user.keyboard("{Enter}");
  expect(pressed(/outside/)).toEqual(["false", "false"]);
  expect(document.activeElement).toBe(question(/outside/).getByRole("button", { name: "yes" }));
  await user.keyboard("n");
  expect(pressed(/outside/)).toEqual(["false", "true"]);
  question(/warp/).getByRole("button", { name: "no" }).focus();
  await user.keyboard(" ");
  expect(pressed(/warp/)).toEqual(["false", "true"]);
});
