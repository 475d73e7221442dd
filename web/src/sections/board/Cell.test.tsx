import { screen } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, show } from "../../testingTools";
import BoardPage from "./BoardPage";
import { Cell } from "./Cell";

const MATERIAL = { id: "m", name: "Slate 2", kind: "resin", family: "basic", opacity: "opaque" };
const PRINTER = { id: "r", name: "Cormorant", pixel_um: 35, screen_hours: 412 };
const board = (changes: object = {}) => ({
  layer_height_um: 50,
  layer_heights_um: [50],
  families: ["basic"],
  printers: [PRINTER],
  materials: [MATERIAL],
  more_after: null,
  cells: [],
  axis_s: [1, 10],
  on: "2026-01-21",
  today: [],
  later: [],
  waiting: 0,
  ...changes,
});
const cell = (state: string, changes: object = {}) => ({
  material_id: "m",
  printer_id: "r",
  state,
  exposure_s: 2.9,
  lower_s: 2.2,
  upper_s: 4,
  latitude_pct: 61,
  temp_low_c: 21,
  temp_high_c: 27,
  set_id: "s",
  set_code: "S-001",
  set_version: 1,
  why: null,
  calibration_id: null,
  calibration_code: null,
  coupons: 0,
  read: 0,
  waiting: 0,
  planned: 0,
  lowest_s: null,
  highest_s: null,
  ...changes,
});
const shown = (held: object | undefined, more: object = {}) =>
  show(
    <Cell cell={held as never} material={MATERIAL as never} printer={PRINTER as never} board={board(more) as never} />,
  );
const link = () => screen.getByRole("link");

test("a pair nobody calibrated offers to begin, at the height that is looked at", () => {
  shown(undefined);
  expect(link().getAttribute("href")).toBe("/calibrate/new?material=m&printer=r&height=50");
  expect(link().textContent).toContain("not calibratedCalibrate");
});

test("beyond five printers an empty cell is only a dash", () => {
  shown(undefined, { printers: Array.from({ length: 6 }, () => PRINTER) });
  expect(link().textContent).toContain("–");
  expect(link().textContent).not.toContain("Calibrate");
});

test("a guess has two digits, a tilde, and what it rests on", () => {
  shown(cell("predicted", { exposure_s: 3.678, why: "The maker's range." }));
  expect(link().textContent.replace(/\s/g, " ")).toContain("~3.7 sestimate");
  expect(link().getAttribute("href")).toContain("/calibrate/new");
});

test("an issued set shows its exposure, its band and its latitude", () => {
  shown(cell("issued"));
  expect(link().textContent.replace(/\s/g, " ")).toContain("21–27 °C · 61 % latitude");
  expect(link().getAttribute("href")).toBe("/sets/S-001");
});

test("what is due or lapsed says why instead", () => {
  shown(cell("lapsed", { why: "Screen replaced.", calibration_id: "c" }));
  expect(link().getAttribute("aria-label")).toBe("Slate 2 on Cormorant: lapsed, 2.9 s. Screen replaced.");
  expect(link().textContent).toContain("being calibrated again");
});

test("a calibration under way shows the range it has tried, in seconds, and what waits", () => {
  shown(
    cell("calibrating", {
      calibration_id: "c",
      lowest_s: 1.5,
      highest_s: 4,
      coupons: 5,
      read: 2,
      waiting: 1,
      planned: 2,
    }),
  );
  expect(link().textContent.replace(/\s/g, " ")).toContain("1.50 to 4.00 s");
  expect(link().textContent).toContain("2 read, 1 waiting, 2 to print");
  expect(link().getAttribute("href")).toBe("/calibrate/c");
});

test("a calibration without a ladder says so", () => {
  shown(cell("calibrating", { calibration_id: "c" }));
  expect(link().textContent).toContain("no ladder yet");
});

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/board": board() });
});

test.each([
  [{ materials: [], printers: [] }, "Set up my bench", "/start/bench"],
  [{ printers: [] }, "Add a printer", "/shelf/printers?new=1"],
  [{ materials: [] }, "Add a resin", "/shelf/resins?new=1"],
])("an empty board says where to begin", async (changes, name, place) => {
  api.answers["GET /api/board"] = board(changes);
  show(<BoardPage />);
  expect((await screen.findByRole("link", { name })).getAttribute("href")).toBe(place);
});

test.each([
  [{ kind: "start", material_id: "m", printer_id: "r" }, "/calibrate/new?material=m&printer=r"],
  [{ kind: "cold", printer_id: "r" }, "/climate/warm-start?printer=r"],
  [{ kind: "vat", printer_id: "r" }, "/blend/vat/r"],
  [{ kind: "test", test_code: "T-001" }, "/test/T-001"],
  [{ kind: "check", set_code: "S-001" }, "/sets/S-001"],
  [{ kind: "check", attention: true }, "/board?attention=1"],
  [{ kind: "blind", coupon_code: "103N", blind_id: "b" }, "/blind/b"],
  [{ kind: "read", coupon_code: "103N", calibration_id: "c" }, "/coupons/103N"],
  [{ kind: "print", calibration_id: "c" }, "/calibrate/c"],
])("what today asks for is one click away", async (task, place) => {
  api.answers["GET /api/board"] = board({
    today: [
      {
        title: "Do it",
        detail: "because",
        action: "Now",
        coupon_code: null,
        calibration_id: null,
        blind_id: null,
        set_code: null,
        test_code: null,
        printer_id: null,
        material_id: null,
        attention: false,
        ...task,
      },
    ],
  });
  show(<BoardPage />);
  expect((await screen.findByRole("link", { name: "Now" })).getAttribute("href")).toBe(place);
});

test("a day without work says so, and the counts say what there is", async () => {
  api.answers["GET /api/board"] = board({
    cells: [cell("issued"), cell("due"), cell("calibrating", { calibration_id: "c" })],
  });
  show(<BoardPage />);
  expect(await screen.findByText("No coupon waits to be printed or read, and no set is due.")).toBeTruthy();
  expect(screen.getByText("1 material · 1 printer · 1 issued · 1 due · 1 calibrating")).toBeTruthy();
});

test("c on a cell calibrates its pair, arrows go from cell to cell", async () => {
  api.answers["GET /api/board"] = board({
    printers: [PRINTER, { ...PRINTER, id: "g", name: "Gannet" }],
    cells: [cell("issued")],
  });
  const { user, place } = show(<BoardPage />, { at: "/board" });
  (await screen.findByRole("link", { name: /^Slate 2 on Cormorant/ })).focus();
  await user.keyboard("{ArrowRight}");
  expect(document.activeElement!.getAttribute("aria-label")).toContain("Slate 2 on Gannet");
  await user.keyboard("{ArrowLeft}c");
  expect(place()).toBe("/calibrate/new?material=m&printer=r&height=50");
});

test("settings in use are never shown as a set: their own mark, their age, a hollow window of prints", () => {
  shown(
    cell("in use", {
      set_id: null,
      set_code: null,
      provisional_code: "U-001",
      in_use_days: 122,
      source_words: "own habit",
      from_prints: true,
    }),
  );
  const link = screen.getByRole("link");
  expect(link.getAttribute("href")).toBe("/shelf/in-use/U-001");
  expect(link.getAttribute("aria-label")).toBe(
    "Slate 2 on Cormorant: in use, not shown, 2.9 s, own habit · 4 months · from prints",
  );
  expect(document.querySelector(".window.hollow")).toBeTruthy();
  expect(document.body.textContent).not.toContain("issued");
});
