import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import LogPage from "./LogPage";
import NewPrintPage from "./NewPrintPage";

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
const print = (changes: object = {}) => ({
  id: "p",
  code: "J-001",
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
  parts: [{ id: "1", name: "funnel", place: "", outcome: "whole" }],
  ...changes,
});

beforeEach(() => {
  api = fakeApi({
    "GET /api/prints": { items: [print()] },
    "GET /api/gates": { items: [] },
    "GET /api/printers": {
      items: [
        { id: "r", name: "Cormorant", simulated: false },
        { id: "g", name: "Gannet", simulated: false },
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
        parts: [{ id: "1", name: "clip", place: "", outcome: "missing" }],
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
  expect(await screen.findByText("No print has left parts missing.")).toBeTruthy();
  unmount();
  show(<LogPage />, { at: "/log" });
  expect(await screen.findByText(/the record a failure is explained from/)).toBeTruthy();
  expect(screen.getAllByRole("link", { name: "Log a print" })).toHaveLength(2);
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
  const { user } = show(<NewPrintPage />);
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
  show(<NewPrintPage />);
  await screen.findByText("Gannet");
  expect(screen.queryByText("Guillemot")).toBeNull();
});

test("a print is logged with its parts, and the next one begins like it", async () => {
  const { user, place, unmount } = show(<NewPrintPage />, { at: "/log/new" });
  await waitFor(() => expect(screen.getByLabelText<HTMLSelectElement>("Issued set").value).toBe("S-001"));
  await user.type(screen.getByLabelText("Temperature at start"), "22,5");
  await user.type(screen.getByLabelText("Part 1"), "funnel");
  await user.click(
    within(screen.getByRole("group", { name: "Outcome of part 1" })).getByRole("button", { name: "in part" }),
  );
  await user.click(screen.getByRole("button", { name: "One more part" }));
  await user.click(screen.getByRole("button", { name: "Log it" }));
  await waitFor(() => expect(place()).toBe("/log"));
  expect(api.of("POST", "/api/prints")[0]!.body).toMatchObject({
    printer_id: "r",
    set_code: "S-001",
    temp_c: 22.5,
    temp_place: "room",
    parts: [
      { name: "funnel", place: "", outcome: "in part" },
      { name: "funnel", place: "", outcome: "whole" },
    ],
  });
  unmount();
  show(<NewPrintPage />);
  expect(screen.getByLabelText<HTMLInputElement>("Part 1").value).toBe("funnel");
});

test("trial settings stay possible although the printer has one set", async () => {
  const { user } = show(<NewPrintPage />);
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
  const { user } = show(<NewPrintPage />);
  await screen.findByText("Gannet");
  await user.click(screen.getByRole("button", { name: "Log it" }));
  expect(await screen.findByText("Say what was printed.")).toBeTruthy();
  api.answers["POST /api/prints"] = new Refusal(409, "J-001 left parts missing.", { vat: "J-001 left parts missing." });
  await user.click(screen.getByRole("button", { name: "Log it" }));
  expect(await screen.findByText("J-001 left parts missing.")).toBeTruthy();
});
