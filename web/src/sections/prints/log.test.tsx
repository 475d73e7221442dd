import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { ReactElement } from "react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import LogPage from "./LogPage";
import FinishPage from "./FinishPage";
import PrintPage from "./PrintPage";
import StartPrintPage from "./StartPrintPage";

let api: ReturnType<typeof fakeApi>;
const set = (code: string, printer_id: string) => ({
  code,
  printer_id,
  printer: printer_id,
  temp_low_c: 21,
  temp_high_c: 27,
  layer_height_um: 50,
  exposure_s: 2.6,
  state: "valid",
  route: null,
});
const part = (changes: object = {}) => ({
  id: "1",
  print_id: "p",
  report_id: "q",
  name: "funnel",
  place: "",
  outcome: "whole",
  printed: 1,
  whole: 1,
  under: 0,
  over: 0,
  x_mm: null,
  y_mm: null,
  ...changes,
});
const print = (changes: object = {}) => ({
  id: "p",
  code: "J-001",
  status: "printed",
  of_parts: true,
  material_id: "m",
  planned_at: "2026-01-20T19:00:00Z",
  started_at: null,
  layer_height_um: 50,
  exposure_s: 2.6,
  tip_mm: null,
  bottle_id: null,
  bottle: null,
  pieces_lost: true,
  started_from: null,
  printer_id: "r",
  printer: "Cormorant",
  material: "Slate 2",
  calibration_id: null,
  calibration_code: null,
  set_code: "S-001",
  settings_note: "",
  printed_at: "2026-01-21T08:00:00Z",
  temp_c: 22,
  temp_place: "resin",
  temp_end_c: 24.85,
  outside_band: null,
  volume_ml: 42,
  duration_s: 0,
  outcome: "whole",
  seen: "",
  initials: "IM",
  searched_at: null,
  lift_suppressed: false,
  lift_back_at: null,
  coupons: 0,
  specimens: 0,
  parts: [part()],
  ...changes,
});

beforeEach(() => {
  api = fakeApi({
    "GET /api/prints": { items: [print()] },
    "GET /api/gates": { items: [] },
    "GET /api/prints/running": { items: [] },
    "GET /api/print-days": { first_day: null, days: 0, prints: [], more: false },
    "GET /api/climate-materials": { items: [{ id: "m", name: "Slate 2" }] },
    "GET /api/bottles": { items: [{ id: "b", code: "B-001", lot: "SL-1" }] },
    "GET /api/printers/r": { id: "r", name: "Cormorant", plate_x_mm: 153, plate_y_mm: 87 },
    "GET /api/print-symptoms": {
      items: [
        { key: "supports-torn", name: "Supports torn", side: "under", leaves_pieces: true },
        { key: "details-grown-shut", name: "Details grown shut", side: "over", leaves_pieces: false },
      ],
    },
    "GET /api/printers": {
      items: [
        { id: "r", name: "Cormorant", simulated: false, plate_x_mm: 153, plate_y_mm: 87 },
        { id: "g", name: "Gannet", simulated: false, plate_x_mm: 153, plate_y_mm: 87 },
        { id: "v", name: "Guillemot", simulated: true },
      ],
    },
    "GET /api/test-materials": {
      items: [
        {
          id: "m",
          name: "Slate 2",
          kind: "resin",
          what: null,
          sets: [set("S-001", "r"), set("S-002", "g"), set("S-003", "g")],
        },
      ],
    },
    "GET /api/how-warm": { now: null, last: null },
    "GET /api/band": { side: null },
    "POST /api/prints": { id: "n", code: "J-009" },
  });
});
const row = (code: string) => screen.getByText(code).closest("tr")!;

test("a print is a line with what it was printed with, how warm it was and how it came out", async () => {
  show(<LogPage />);
  await screen.findByText("J-001");
  const text = row("J-001").textContent.replace(/\s/g, " ");
  for (const said of ["Cormorant", "Slate 2", "S-001", "funnel", "22 °C resin", "24.9 °C", "42 ml", "■ whole"])
    expect(text).toContain(said);
  expect(within(row("J-001")).getByRole("link", { name: "S-001" }).getAttribute("href")).toBe("/sets/S-001");
});

test("coupons and specimens are counted; a calibration is led to", async () => {
  api.answers["GET /api/prints"] = {
    items: [
      print({ code: "J-002", set_code: null, calibration_id: "c", calibration_code: "C-001", coupons: 4 }),
      print({ id: "q", code: "J-003", specimens: 1 }),
    ],
  };
  show(<LogPage />);
  await screen.findByText("J-002");
  expect(row("J-002").textContent).toContain("4 coupons");
  expect(within(row("J-002")).getByRole("link", { name: "C-001" }).getAttribute("href")).toBe("/calibrate/c");
  expect(row("J-003").textContent).toContain("1 specimen");
});

test("a cold print that failed says why it was begun, and leads to a warm start", async () => {
  api.answers["GET /api/prints"] = {
    items: [
      print({
        temp_c: 6.823,
        outcome: "failed",
        outside_band: { side: "below", low_c: 21, high_c: 27, reason: "The tide waits." },
        parts: [part({ name: "clip", outcome: "missing", whole: 0 })],
      }),
    ],
  };
  show(<LogPage />);
  await screen.findByText("J-001");
  expect(row("J-001").textContent.replace(/\s/g, " ")).toContain("6.8 °C resin◀ below 21–27: The tide waits.");
  expect(within(row("J-001")).getByText("clip missing")).toBeTruthy();
  expect(within(row("J-001")).getByRole("link", { name: "Plan a warm start" }).getAttribute("href")).toBe(
    "/climate/warm-start?printer=r&set=S-001",
  );
});

test("a cold print that came out whole needs no warm start", async () => {
  api.answers["GET /api/prints"] = {
    items: [print({ outside_band: { side: "below", low_c: 21, high_c: 27, reason: "a trial" } })],
  };
  show(<LogPage />);
  await screen.findByText("J-001");
  expect(screen.queryByRole("link", { name: "Plan a warm start" })).toBeNull();
});

test("only failures are asked of the server when only they are wanted, and the address says so", async () => {
  const { user, place } = show(<LogPage />, { at: "/log" });
  await user.click(await screen.findByLabelText("only prints with missing parts"));
  await waitFor(() => expect(api.of("GET", "/api/prints").at(-1)!.query.failed).toBe("true"));
  expect(place()).toBe("/log?failed=");
});

test("no failure is good news and no beginning", async () => {
  api.answers["GET /api/prints"] = { items: [] };
  const { unmount } = show(<LogPage />, { at: "/log?failed=" });
  expect(await screen.findByText("No print is like this.")).toBeTruthy();
  unmount();
  show(<LogPage />, { at: "/log" });
  expect(await screen.findByText(/the record a failure is explained from/)).toBeTruthy();
  expect(screen.getAllByRole("link", { name: "Start a print" })).toHaveLength(2);
});

test("gates of all printers stand above the log, in the server's words", async () => {
  api.answers["GET /api/gates"] = {
    items: [{ kind: "vat", print_id: "p", code: "J-001", message: "J-001 left parts missing on Gannet." }],
  };
  show(<LogPage />);
  expect((await screen.findByRole("alert")).textContent).toContain("J-001 left parts missing on Gannet.");
});

test("a full page of prints offers earlier ones, from before the last of them", async () => {
  const page = Array.from({ length: 50 }, (_, index) =>
    print({
      id: String(index),
      code: `J-${index}`,
      printed_at: `2026-01-21T08:00:${String(59 - index).padStart(2, "0")}Z`,
    }),
  );
  api.answers["GET /api/prints"] = ({ query }: { query: { before: string } }) => ({
    items: query.before ? [print({ id: "old", code: "J-old" })] : page,
  });
  const { user } = show(<LogPage />);
  await user.click(await screen.findByRole("button", { name: "Show earlier ones" }));
  expect(await screen.findByText("J-old")).toBeTruthy();
  expect(api.of("GET", "/api/prints").at(-1)!.query.before).toBe("49");
  expect(screen.queryByRole("button", { name: "Show earlier ones" })).toBeNull();
});

test("the only set of a printer is filled in; of several one is chosen", async () => {
  const { user } = show(<StartPrintPage />, { at: "/log/new?done" });
  await waitFor(() => expect(screen.getByLabelText<HTMLSelectElement>("Issued set").value).toBe("S-001"));
  expect(screen.queryByLabelText("Trial settings")).toBeNull();
  await user.selectOptions(screen.getByLabelText("Printer"), "Gannet");
  expect(screen.getByLabelText<HTMLSelectElement>("Issued set").value).toBe("");
  expect(
    within(screen.getByLabelText("Issued set"))
      .getAllByRole("option")
      .map((one) => one.textContent),
  ).toEqual(["none: trial settings", "S-002: Slate 2, 50 µm", "S-003: Slate 2, 50 µm"]);
  expect(screen.getByLabelText("Trial settings")).toBeTruthy();
});

test("a simulated printer prints by itself and is not logged by hand", async () => {
  show(<StartPrintPage />, { at: "/log/new?done" });
  await screen.findByText("Gannet");
  expect(screen.queryByText("Guillemot")).toBeNull();
});

test("a print that came out is logged with its counts, and the next one begins like it", async () => {
  const { user, place, unmount } = show(<StartPrintPage />, { at: "/log/new?done" });
  await waitFor(() => expect(screen.getByLabelText<HTMLSelectElement>("Issued set").value).toBe("S-001"));
  await user.type(screen.getByLabelText("Temperature at start"), "22,5");
  await user.type(screen.getByLabelText("Part 1"), "funnel");
  await user.clear(screen.getByLabelText("How many of part 1"));
  await user.type(screen.getByLabelText("How many of part 1"), "16");
  expect(screen.queryByRole("button", { name: "Supports torn" })).toBeNull();
  await user.clear(screen.getByLabelText("Whole of part 1"));
  await user.type(screen.getByLabelText("Whole of part 1"), "14");
  await user.click(await screen.findByRole("button", { name: "Supports torn" }));
  await user.click(screen.getByRole("button", { name: "Log it" }));
  await waitFor(() => expect(place()).toBe("/log"));
  expect(api.of("POST", "/api/prints")[0]!.body).toMatchObject({
    printer_id: "r",
    set_code: "S-001",
    temp_c: 22.5,
    temp_place: "room",
    symptoms: ["supports-torn"],
    parts: [{ name: "funnel", printed: 16, whole: 14 }],
  });
  unmount();
  show(<StartPrintPage />, { at: "/log/new?done" });
  expect(screen.getByLabelText<HTMLInputElement>("Part 1").value).toBe("funnel");
  expect(screen.getByLabelText<HTMLInputElement>("How many of part 1").value).toBe("16");
});

test("what a probe fills in is no draft of a person's", async () => {
  api.answers["GET /api/how-warm"] = { now: { temp_c: 23.4, place: "resin", by: "Cormorant resin" }, last: null };
  const { unmount } = show(<StartPrintPage />, { at: "/log/new" });
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>(/^Temperature at start/).value).toBe("23.4"));
  unmount();
  show(<StartPrintPage />, { at: "/log/new" });
  await screen.findByLabelText(/^Temperature at start/);
  expect(screen.queryByText(/^Draft/)).toBeNull();
});

test("a coupon hands over all its settings, and what is typed stays", async () => {
  api.answers["POST /api/prints/start"] = { id: "n", code: "J-009" };
  api.answers["GET /api/start-from/104R"] = {
    code: "104R",
    words: "as coupon 104R",
    printer_id: "r",
    set_code: null,
    trial: {
      material_id: "m",
      layer_height_um: 50,
      exposure_s: 2.8,
      settings: { rest_before_s: 2, lift_mm: 8, base_layers: 5 },
    },
    bottle_id: "b",
    part: null,
  };
  const { user, place } = show(<StartPrintPage />, { at: "/log/new?from=104R" });
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("Exposure").value).toBe("2.8"));
  expect(screen.getByText("as coupon 104R")).toBeTruthy();
  await user.type(screen.getByLabelText("Part 1"), "clip");
  await user.click(screen.getByRole("button", { name: "Start it" }));
  await waitFor(() => expect(place()).toBe("/log"));
  expect(api.of("POST", "/api/prints/start")[0]!.body).toMatchObject({
    set_code: null,
    started_from: "104R",
    bottle_id: "b",
    trial: { exposure_s: 2.8, settings: { rest_before_s: 2, lift_mm: 8, base_layers: 5 } },
    parts: [{ name: "clip", printed: 1 }],
  });
});

test("a tap on the plate places a part", async () => {
  api.answers["POST /api/prints/start"] = { id: "n", code: "J-009" };
  const { user } = show(<StartPrintPage />, { at: "/log/new" });
  await user.type(await screen.findByLabelText("Part 1"), "clip");
  const plate = await screen.findByRole("group", { name: /Plate of/, hidden: true });
  plate.getBoundingClientRect = () => ({ left: 0, top: 0, width: 155, height: 89 }) as DOMRect;
  fireEvent.click(plate, { clientX: 31, clientY: 1 });
  await user.click(screen.getByRole("button", { name: "Start it" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/prints/start")[0]!.body).toMatchObject({ parts: [{ x_mm: 30, y_mm: 87 }] }),
  );
});

const at = (path: string, element: ReactElement) => (
  <Routes>
    <Route path={path} element={element} />
    <Route path="*" element={null} />
  </Routes>
);
const report = {
  id: "q",
  print_id: "p",
  number: 1,
  finished_at: "2026-01-21T06:00:00Z",
  outcome: "whole",
  symptoms: [],
  seen: "",
  pieces_lost: true,
  volume_ml: 40,
  duration_s: 3600,
  temp_end_c: null,
  reason: "",
  initials: "TO",
  recorded_at: "2026-01-21T06:10:00Z",
  withdrawn_at: null,
  withdrawn_reason: null,
};
const page = (changes: object = {}) => ({
  ...print({ started_at: "2026-01-20T19:00:00Z" }),
  settings: null,
  set_limits: { code: "S-001", exposure_s: 2.6, temp_low_c: 21, temp_high_c: 27, side: null },
  planned: [],
  reports: [report],
  photos: [],
  followed: [],
  symptoms: [],
  ...changes,
});

test("a print that ran overnight is finished in a few taps", async () => {
  const running = {
    status: "planned",
    outcome: null,
    printed_at: null,
    reports: [],
    parts: [part({ printed: 16, whole: null, report_id: null })],
  };
  api.answers["GET /api/prints/J-001"] = page(running);
  api.answers["POST /api/prints/p/finish"] = { code: "J-001", outcome: "missing parts" };
  const { user, place } = show(at("/log/:code/finish", <FinishPage />), { at: "/log/J-001/finish" });
  await user.click(await screen.findByRole("button", { name: "None of part 1 is whole" }));
  await user.click(await screen.findByRole("button", { name: "Details grown shut" }));
  await user.click(screen.getByLabelText(/Every piece is there/));
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(place()).toBe("/log/J-001"));
  expect(api.of("POST", "/api/prints/p/finish")[0]!.body).toMatchObject({
    symptoms: ["details-grown-shut"],
    pieces_lost: false,
    parts: [{ name: "funnel", printed: 16, whole: 0 }],
  });
});

test("a report is corrected with a reason; what somebody else said meanwhile is told and nothing is lost", async () => {
  api.answers["GET /api/prints/J-001"] = page();
  api.answers["POST /api/prints/p/correct"] = new Refusal(409, "RB corrected J-001 meanwhile.", {
    number: "RB corrected J-001 meanwhile.",
  });
  const { user } = show(at("/log/:code/finish", <FinishPage />), { at: "/log/J-001/finish?correct" });
  await user.type(await screen.findByLabelText("Why it is corrected"), "Counted again");
  await user.click(screen.getByRole("button", { name: "Correct it" }));
  expect(await screen.findByText("RB corrected J-001 meanwhile.")).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Why it is corrected").value).toBe("Counted again");
  expect(api.of("POST", "/api/prints/p/correct")[0]!.body).toMatchObject({ number: 1, reason: "Counted again" });
});

test("a print that was told of already is not told of again", async () => {
  api.answers["GET /api/prints/J-001"] = page();
  show(at("/log/:code/finish", <FinishPage />), { at: "/log/J-001/finish" });
  expect(await screen.findByText("J-001 does not run")).toBeTruthy();
});

test("a print's page holds its conditions against its set, and is withdrawn with a reason", async () => {
  api.answers["GET /api/prints/J-001"] = page({
    temp_c: 18,
    set_limits: { code: "S-001", exposure_s: 2.6, temp_low_c: 21, temp_high_c: 27, side: "below" },
  });
  api.answers["POST /api/prints/p/withdraw"] = print({ status: "cancelled" });
  const { user } = show(at("/log/:code", <PrintPage />), { at: "/log/J-001" });
  const conditions = await screen.findByRole("region", { name: "Conditions" });
  expect(conditions.textContent.replace(/\s/g, " ")).toContain("18 °C resin, outside 21–27 °C");
  expect(screen.getByRole("region", { name: "Reports" }).textContent).toContain("whole, TO");
  await user.click(screen.getByRole("button", { name: "Withdraw…" }));
  await user.type(screen.getByLabelText("Why"), "another printer");
  await user.click(screen.getByRole("button", { name: "Withdraw" }));
  await waitFor(() => expect(api.of("POST", "/api/prints/p/withdraw")[0]!.body).toEqual({ reason: "another printer" }));
});

test("prints that run wait above the log for their outcome", async () => {
  api.answers["GET /api/prints/running"] = {
    items: [print({ code: "J-007", status: "planned", started_at: "2026-01-20T19:00:00Z", duration_s: 14400 })],
  };
  show(<LogPage />, { at: "/log" });
  const running = await screen.findByRole("region", { name: "Running" });
  expect(running.textContent).toContain("funnel on Cormorant");
  expect(within(running).getByRole("link", { name: "How did it come out?" }).getAttribute("href")).toBe(
    "/log/J-007/finish",
  );
});

test("filters stand in the address and are asked of days and list alike", async () => {
  const { user, place } = show(<LogPage />, { at: "/log" });
  await user.selectOptions(await screen.findByLabelText("Material"), "Slate 2");
  await waitFor(() => expect(api.of("GET", "/api/prints").at(-1)!.query.material).toBe("m"));
  expect(api.of("GET", "/api/print-days").at(-1)!.query.material).toBe("m");
  expect(place()).toBe("/log?material=m");
  await user.click(screen.getByRole("button", { name: "Show all" }));
  expect(place()).toBe("/log");
});

test("trial settings stay possible although the printer has one set", async () => {
  const { user } = show(<StartPrintPage />, { at: "/log/new?done" });
  await waitFor(() => expect(screen.getByLabelText<HTMLSelectElement>("Issued set").value).toBe("S-001"));
  await user.selectOptions(screen.getByLabelText("Issued set"), "none: trial settings");
  await user.type(screen.getByLabelText("Trial settings"), "2.6 s");
  await user.click(screen.getByRole("button", { name: "Log it" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/prints")[0]?.body).toMatchObject({ set_code: null, settings_note: "2.6 s" }),
  );
});

test("a part without a name is asked for, and a shut gate is said", async () => {
  api.answers["POST /api/prints"] = new Refusal(422, "No.", { "parts.0.name": "too short" });
  const { user } = show(<StartPrintPage />, { at: "/log/new?done" });
  await screen.findByText("Gannet");
  await user.click(screen.getByRole("button", { name: "Log it" }));
  expect(await screen.findByText("Say what was printed.")).toBeTruthy();
  api.answers["POST /api/prints"] = new Refusal(409, "J-001 left parts missing.", { vat: "J-001 left parts missing." });
  await user.click(screen.getByRole("button", { name: "Log it" }));
  expect(await screen.findByText("J-001 left parts missing.")).toBeTruthy();
});

test("signs of both sides ask how many parts failed in which way", async () => {
  api.answers["GET /api/prints/J-001"] = page({
    status: "planned",
    reports: [],
    parts: [part({ printed: 16, whole: null, under: 0, over: 0, report_id: null })],
  });
  api.answers["POST /api/prints/p/finish"] = { code: "J-001", outcome: "missing parts" };
  const { user } = show(at("/log/:code/finish", <FinishPage />), { at: "/log/J-001/finish" });
  const whole = await screen.findByLabelText("Whole of part 1");
  await user.clear(whole);
  await user.type(whole, "10");
  await user.click(await screen.findByRole("button", { name: "Supports torn" }));
  expect(screen.queryByLabelText(/too little light/)).toBeNull();
  await user.click(screen.getByRole("button", { name: "Details grown shut" }));
  await user.type(screen.getByLabelText("funnel: too little light"), "4");
  await user.type(screen.getByLabelText("funnel: too much light"), "2");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(api.of("POST", "/api/prints/p/finish")).toHaveLength(1));
  expect(api.of("POST", "/api/prints/p/finish")[0]!.body).toMatchObject({ parts: [{ whole: 10, under: 4, over: 2 }] });
});

test("all other settings of a trial are as usual on the printer, and each can be changed", async () => {
  api.answers["GET /api/test-materials"] = { items: [] };
  api.answers["GET /api/calibration-start"] = {
    settings: { lift_mm: 8, base_layers: 5, rest_before_s: 2 },
    setting_fields: [
      { key: "lift_mm", label: "Lift and retract distance", unit: "mm", usual: 6, hint: null },
      { key: "rest_before_s", label: "Rest before exposure", unit: "s", usual: 1, hint: null },
    ],
  };
  api.answers["POST /api/prints/start"] = print({ status: "planned" });
  const { user } = show(<StartPrintPage />, { at: "/log/new" });
  await user.type(await screen.findByLabelText("Part 1"), "funnel");
  await user.selectOptions(await screen.findByLabelText("Material"), "m");
  await user.type(screen.getByLabelText("Exposure"), "2.6");
  await user.click(await screen.findByText("All other settings: as usual on this printer"));
  const lift = await screen.findByLabelText("Lift and retract distance");
  await user.clear(lift);
  await user.type(lift, "10");
  expect(screen.getAllByLabelText("Rest before exposure")).toHaveLength(1);
  await user.click(screen.getByRole("button", { name: "Start it" }));
  await waitFor(() => expect(api.of("POST", "/api/prints/start")).toHaveLength(1));
  expect(api.of("POST", "/api/prints/start")[0]!.body).toMatchObject({
    trial: { exposure_s: 2.6, settings: { lift_mm: 10, base_layers: 5, rest_before_s: 1 } },
  });
});
