import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { askedAnew, fakeApi, Refusal, show } from "../../testingTools";
import { Carried } from "../sets/Carried";
import { age } from "./age";
import { BorrowedPanel } from "./BorrowedPanel";
import { ClaimsPanel } from "./ClaimsPanel";
import InUseFormPage from "./InUseFormPage";
import InUseOnePage from "./InUseOnePage";
import TablePage from "./TablePage";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({});
});
const text = () => document.body.textContent ?? "";

const PAGE = {
  id: "u",
  code: "U-001",
  version: 1,
  material_id: "m",
  material: "Slate 2",
  printer_id: "p",
  printer: "Cormorant",
  layer_height_um: 50,
  exposure_s: 2.6,
  settings: {
    light_power_pct: 100,
    base_exposure_s: 30,
    base_layers: 4,
    transition_layers: 3,
    rest_before_s: 1,
    rest_after_lift_s: 0,
    rest_after_retract_s: 0,
    lift_mm: 6,
    lift_mm_min: 60,
    retract_mm_min: 150,
    anti_aliasing: 0,
  },
  stated: ["base_exposure_s"],
  tip_mm: null,
  finish_route_version_id: null,
  source: "own habit",
  source_words: "own habit",
  source_note: "TO’s list",
  in_use_since: "2025-09-21",
  age_days: 122,
  note: "",
  table_code: "TB-001",
  table_row: 7,
  initials: "IM",
  entered_at: "2026-01-21T09:00:00Z",
  withdrawn_at: null,
  withdrawn_reason: null,
  state: "in use",
  setting_lines: [
    { name: "Layer height", value: "0.05", unit: "mm" },
    { name: "Exposure", value: "2.6", unit: "s" },
    { name: "Light power", value: "100", unit: "%" },
    { name: "Base exposure", value: "30", unit: "s" },
  ],
  usual_lines: ["Light power"],
  history: [{ version: 1, exposure_s: 2.6, entered_at: "2026-01-21T09:00:00Z", initials: "IM" }],
  from_prints: null,
  calibrated: null,
  next: { kind: "flat", exposures_s: [2.6], cost: { volume_ml: 1.2, duration_s: 540 }, words: "It shows both ends." },
  range_s: [1.6, 4.2],
  finish_route_id: null,
  finish_route: null,
};

const one = () =>
  show(
    <Routes>
      <Route path="/shelf/in-use/:code" element={<InUseOnePage />} />
    </Routes>,
    { at: "/shelf/in-use/U-001" },
  );

test("settings in use say what was stated, where it comes from, and the coupon that would show most", async () => {
  api.answers["GET /api/provisional-sets/U-001"] = PAGE;
  one();
  await screen.findByRole("heading", { name: "Slate 2 on Cormorant, 50 µm" });
  expect(screen.getByRole("row", { name: /^Light power 100.% as usual$/ })).toBeTruthy();
  expect(screen.getByRole("row", { name: /^Base exposure 30.s$/ })).toBeTruthy();
  expect(text()).toMatch(/In use since 21 Sept? 2025, 4 months/);
  expect(text()).toContain("from row 7 of TB-001");
  expect(text()).toMatch(/Flat coupon at 2\.6.s/);
});

test("what is typed over settings in use stays while somebody else saves them", async () => {
  api.answers["GET /api/provisional-sets/U-001"] = PAGE;
  for (const path of ["climate-materials", "printers", "finish-routes"])
    api.answers[`GET /api/${path}`] = { items: [{ id: "m", name: "Slate 2" }] };
  api.answers["GET /api/calibration-start"] = { setting_fields: [] };
  api.answers["PUT /api/provisional-sets/U-001"] = new Refusal(409, "TO changed them meanwhile.");
  const { user } = show(
    <Routes>
      <Route path="/shelf/in-use/:code/change" element={<InUseFormPage />} />
    </Routes>,
    { at: "/shelf/in-use/U-001/change" },
  );
  await user.type(await screen.findByLabelText("Note"), "After the new film");
  api.answers["GET /api/provisional-sets/U-001"] = { ...PAGE, version: 2, note: "Theirs" };
  askedAnew();
  await waitFor(() => expect(api.of("GET", "/api/provisional-sets/U-001").length).toBe(2));
  await user.click(screen.getByRole("button", { name: "Save a new version" }));
  expect(await screen.findByText("TO changed them meanwhile.")).toBeTruthy();
  expect(api.of("PUT", "/api/provisional-sets/U-001")[0]?.body).toMatchObject({
    note: "After the new film",
    version: 1,
  });
});

test("a set that took their place is named, and nothing more is offered", async () => {
  api.answers["GET /api/provisional-sets/U-001"] = {
    ...PAGE,
    state: "superseded",
    next: null,
    calibrated: { set_code: "S-004", words: "2.6 s was 8 % longer than the 2.4 s of S-004, inside its window." },
  };
  one();
  expect(await screen.findByText(/8 % longer/)).toBeTruthy();
  expect(screen.queryByRole("link", { name: "Calibrate" })).toBeNull();
});

test.each([
  [null, "since when is not known"],
  [1, "1 day"],
  [40, "40 days"],
  [122, "4 months"],
  [1200, "3 years"],
])("%s days are told as %s", (days, words) => expect(age(days)).toBe(words));

const TABLE = {
  code: "TB-001",
  name: "old.csv",
  columns: ["Resin", "Time", "Since"],
  rows: [["Slate 2", "2.4", "03/04/2025"]],
  row_count: 1,
  first_row: 2,
  likeliest: "settings",
  taken_before: "TB-000",
  kinds: [
    {
      key: "settings",
      title: "Settings in use",
      each: "",
      fields: [
        { key: "material", label: "Material", units: [], needed: true, is_date: false },
        { key: "exposure_s", label: "Exposure", units: ["s", "ms"], needed: true, is_date: false },
        { key: "in_use_since", label: "In use since", units: [], needed: false, is_date: true },
      ],
      matches: [
        { field: "material", column: "Resin", unit: "" },
        { field: "exposure_s", column: "Time", unit: "s" },
        { field: "in_use_since", column: "Since", unit: "" },
      ],
    },
  ],
};

test("dates that can be read in two ways are asked for, and bad rows are shown with their place", async () => {
  api.answers["GET /api/earlier-tables/TB-001"] = TABLE;
  api.answers["POST /api/earlier-tables/TB-001/check"] = new Refusal(422, "Dates can be read in two ways.", {
    date_order: "Dates of “Since” can be read in two ways.",
  });
  const { user } = show(<TablePage />, { at: "/shelf/in-use/table?table=TB-001" });
  expect(await screen.findByText(/taken in as TB-000 already/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Check every row" }));
  await user.selectOptions(await screen.findByLabelText("Dates are written"), "dmy");
  api.answers["POST /api/earlier-tables/TB-001/check"] = {
    good: 1,
    bad: 1,
    left_out: 0,
    problems: [{ row: 3, column: "Time", message: "“abc” is no number." }],
    unknown_names: [{ field: "material", name: "Old grey", rows: 2 }],
    choices: { material: [{ id: "m", name: "Slate 2" }] },
    preview: [{ row: 2, words: "Slate 2 on Cormorant" }],
  };
  await user.click(screen.getByRole("button", { name: "Check every row" }));
  expect(await screen.findByRole("row", { name: "3 Time “abc” is no number." })).toBeTruthy();
  expect(api.of("POST", "/api/earlier-tables/TB-001/check").at(-1)?.body).toMatchObject({ date_order: "dmy" });
  const take = screen.getByRole("button", { name: "Take in 1 row" });
  expect(take.hasAttribute("disabled")).toBe(true);
  await user.selectOptions(screen.getByLabelText("Material “Old grey”, 2 rows"), "leave its rows out");
  await user.click(screen.getByRole("checkbox"));
  api.answers["POST /api/earlier-tables/TB-001/take"] = {
    code: "TB-001",
    name: "old.csv",
    rows_taken: 1,
    rows_left: 1,
  };
  await user.click(take);
  expect(await screen.findByRole("heading", { name: "1 row taken in" })).toBeTruthy();
  expect(api.of("POST", "/api/earlier-tables/TB-001/take")[0]?.body).toMatchObject({
    leave_out_bad: true,
    names: { material: { "Old grey": "" } },
  });
});

test("a material that is not on the shelf is added from the table, under its name, and the rows are checked again", async () => {
  api.answers["GET /api/earlier-tables/TB-001"] = TABLE;
  const bad = { field: "material", name: "Old grey", rows: 2 };
  const checked = { good: 0, bad: 2, left_out: 0, problems: [], unknown_names: [bad], choices: {}, preview: [] };
  api.answers["POST /api/earlier-tables/TB-001/check"] = checked;
  api.answers["POST /api/resins"] = { id: "new", code: "M-002", name: "Old grey" };
  const { user } = show(<TablePage />, { at: "/shelf/in-use/table?table=TB-001" });
  await user.click(await screen.findByRole("button", { name: "Check every row" }));
  await user.click(await screen.findByRole("button", { name: "Add Old grey to the shelf…" }));
  const dialog = within(await screen.findByRole("dialog"));
  expect(dialog.getByLabelText<HTMLInputElement>(/^Name/).value).toBe("Old grey");
  await user.type(dialog.getByLabelText(/^Maker/), "the harbour");
  await user.type(dialog.getByLabelText(/^Colour/), "grey");
  await user.click(dialog.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(api.of("POST", "/api/earlier-tables/TB-001/check")).toHaveLength(2));
  expect(api.of("POST", "/api/earlier-tables/TB-001/check").at(-1)?.body).toMatchObject({
    names: { material: { "Old grey": "new" } },
  });
});

test("a column that does not fit is told at its place", async () => {
  api.answers["GET /api/earlier-tables/TB-001"] = TABLE;
  api.answers["POST /api/earlier-tables/TB-001/check"] = new Refusal(422, "No.", {
    "matches.1.unit": "Exposure is given in s.",
  });
  const { user } = show(<TablePage />, { at: "/shelf/in-use/table?table=TB-001" });
  await user.selectOptions(await screen.findByLabelText("Unit of Exposure"), "ms");
  await user.click(screen.getByRole("button", { name: "Check every row" }));
  expect(await screen.findByText("Exposure is given in s.")).toBeTruthy();
});

test("what was borrowed says whose it is and can be withdrawn with a reason", async () => {
  api.answers["GET /api/borrowed-sets"] = {
    total: 1,
    items: [
      {
        code: "BS-001",
        workshop: "the harbour school",
        material: "Kelpflex",
        printer: "Gannet",
        layer_height_um: 50,
        exposure_s: 3.3,
        low_s: 1.8,
        high_s: 6.1,
        carried: ["nothing in common"],
        theirs: { code: "S-009", exposure_s: 3.1, printer: "Tern", issued_at: "2026-01-09T10:00:00Z" },
      },
    ],
  };
  api.answers["POST /api/borrowed-sets/BS-001/withdraw"] = { code: "BS-001" };
  const { user } = show(<BorrowedPanel />);
  expect(await screen.findByText(/S-009 of the harbour school/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Withdraw BS-001" }));
  await user.type(screen.getByLabelText("Why it no longer stands"), "a slip");
  await user.click(screen.getByRole("button", { name: "Withdraw" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/borrowed-sets/BS-001/withdraw")[0]?.body).toEqual({ reason: "a slip" }),
  );
});

test("a claim says whether what was measured agrees, and a range that is upside down is refused at its field", async () => {
  api.answers["GET /api/materials/m/claims"] = {
    items: [
      {
        id: "c",
        name: "Exposure",
        source: "the sheet",
        words: "Exposure at 50 µm: 2 to 3 s by the sheet; measured here: 3.3 s (S-001), outside what is claimed",
        agrees: false,
        contradicts: ["the label"],
        dated: null,
        initials: "IM",
        entered_at: "2026-01-21T09:00:00Z",
      },
    ],
  };
  api.answers["GET /api/claim-properties"] = { items: [{ key: "exposure", name: "Exposure", unit: "s" }] };
  api.answers["POST /api/materials/m/claims"] = new Refusal(422, "No.", { high: "The high end is below the low end." });
  const { user } = show(<ClaimsPanel material="m" />);
  expect(await screen.findByText("differs")).toBeTruthy();
  expect(text()).toContain("Contradicts the label.");
  await user.click(screen.getByRole("button", { name: "Add a claim" }));
  await user.type(screen.getByLabelText("From"), "3");
  await user.type(screen.getByLabelText("To"), "2");
  await user.type(screen.getByLabelText("Who claims it"), "the sheet");
  await user.click(screen.getByRole("button", { name: "Add it" }));
  expect(await screen.findByText("The high end is below the low end.")).toBeTruthy();
});

test("a set says what was in use before it and what it says elsewhere", async () => {
  api.answers["GET /api/sets/S-004/in-use-before"] = {
    items: [{ provisional_code: "U-001", words: "2.6 s was 8 % longer than the 2.4 s of S-004, inside its window." }],
  };
  api.answers["GET /api/sets/S-004/scaled"] = {
    items: [
      {
        target: "30 µm",
        words: "for 30 µm about 1.9 s (1.6–2.3); two coupons would settle it",
        link: "/calibrate/new",
      },
    ],
  };
  show(<Carried code="S-004" />);
  expect(await screen.findByText(/8 % longer/)).toBeTruthy();
  expect(await screen.findByText(/^For 30 µm about 1\.9 s/)).toBeTruthy();
});
