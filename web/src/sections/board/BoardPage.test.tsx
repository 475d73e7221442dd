import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import BoardPage from "./BoardPage";

const material = (id: string, name: string, changes: object = {}) => ({
  id,
  name,
  kind: "resin",
  family: "basic",
  opacity: "opaque",
  ...changes,
});
const printer = (id: string, name: string) => ({ id, name, pixel_um: 35, screen_hours: 412 });
const task = (title: string, changes: object = {}) => ({
  kind: "read",
  title,
  detail: "because",
  action: "Read it",
  coupon_code: null,
  calibration_id: null,
  blind_id: null,
  set_code: null,
  test_code: null,
  printer_id: null,
  material_id: null,
  bottle_code: null,
  attention: false,
  key: `read ${title}`,
  ...changes,
});
const board = (changes: object = {}) => ({
  layer_height_um: 50,
  layer_heights_um: [30, 50],
  families: ["basic", "clear"],
  printers: [printer("r", "Cormorant"), printer("g", "Gannet")],
  materials: [material("m", "Slate 2"), material("t", "Tideglass", { family: "clear", opacity: "clear" })],
  more_after: null,
  cells: [],
  axis_s: [1, 10],
  on: "2026-01-21",
  today: [],
  later: [],
  waiting: 0,
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/board": board() });
});
async function shown(held: unknown = board(), at = "/board") {
  api.answers["GET /api/board"] = held;
  const drawn = show(<BoardPage />, { at });
  await screen.findByRole("heading", { name: "What can I print with?" });
  return drawn;
}
const asked = () => api.of("GET", "/api/board").at(-1)!.query;

test("materials go down and printers across, each leading to what is known of it", async () => {
  await shown();
  const table = screen.getByRole("table", { name: "Materials by printers" });
  expect(
    within(table)
      .getAllByRole("columnheader")
      .slice(1)
      .map((one) => one.textContent.replace(/\s/g, " ")),
  ).toEqual(["Cormorantpixel 35 µm · screen 412 h", "Gannetpixel 35 µm · screen 412 h"]);
  expect(
    within(table)
      .getAllByRole("rowheader")
      .map((one) => one.textContent),
  ).toEqual(["Slate 2basic · opaque", "Tideglassclear"]);
  expect(within(table).getByRole("link", { name: "Tideglass" }).getAttribute("href")).toBe("/materials/t");
  expect(within(table).getByRole("link", { name: "Gannet" }).getAttribute("href")).toBe("/printers/g");
});

test("a layer height is a place of its own, and the one that is shown says so", async () => {
  await shown(board(), "/board?family=clear");
  const heights = within(screen.getByRole("group", { name: "Layer height" }));
  expect(heights.getByRole("link", { name: "30" }).getAttribute("href")).toBe("/board?family=clear&height=30");
  expect(heights.getByRole("link", { name: /^50/ }).getAttribute("aria-current")).toBe("true");
});

test("what the address asks for is asked of the server", async () => {
  await shown(board(), "/board?height=30&family=clear&printer=g&attention=1&rows=80");
  expect(asked()).toEqual({
    layer_height_um: "30",
    family: "clear",
    printer_id: "g",
    attention: "true",
    limit: "80",
    after: "",
  });
});

test("filters go into the address and out of it; all printers stay on offer while one is shown", async () => {
  const { user, place } = await shown();
  api.answers["GET /api/board"] = board({ printers: [printer("g", "Gannet")] });
  await user.selectOptions(screen.getByLabelText("Printer"), "Gannet");
  await waitFor(() => expect(place()).toBe("/board?printer=g"));
  await waitFor(() => expect(asked().printer_id).toBe("g"));
  expect(
    within(screen.getByLabelText("Printer"))
      .getAllByRole("option")
      .map((one) => one.textContent),
  ).toEqual(["all printers", "Cormorant", "Gannet"]);
  await user.click(screen.getByLabelText("needs attention"));
  expect(place()).toBe("/board?printer=g&attention=1");
  await user.selectOptions(screen.getByLabelText("Printer"), "all printers");
  expect(place()).toBe("/board?attention=1");
});

test("when nothing is left by the filters the way back stands there, not the way to begin", async () => {
  await shown(board({ materials: [] }), "/board?attention=1");
  expect(screen.getByText("No material is due or lapsed, or none of this family is on the shelf.")).toBeTruthy();
  expect(screen.getByRole("link", { name: "Show all" }).getAttribute("href")).toBe("/board");
});

test("one printer and one family need no filters", async () => {
  await shown(board({ families: ["basic"], printers: [printer("r", "Cormorant")] }));
  expect(screen.queryByRole("group", { name: "Filter" })).toBeNull();
});

test("more materials are shown when asked for", async () => {
  const { user, place } = await shown(board({ more_after: "t" }));
  await user.click(screen.getByRole("button", { name: "Show more materials" }));
  await waitFor(() => expect(place()).toBe("/board?rows=80"));
  await waitFor(() => expect(asked().limit).toBe("80"));
});

test("r reads the next coupon; a second reading is not it", async () => {
  const { user, place } = await shown(
    board({ today: [task("blind", { coupon_code: "101A", blind_id: "b" }), task("next", { coupon_code: "103N" })] }),
  );
  await user.keyboard("r");
  expect(place()).toBe("/coupons/103N");
});

test("a long day is folded behind its number, which a small screen shows first", async () => {
  const { user, container } = await shown(board({ today: ["a", "b", "c", "d", "e", "f"].map((title) => task(title)) }));
  const later = () => [...container.querySelectorAll(".today:not(.all) .later strong")].map((one) => one.textContent);
  expect(later()).toEqual(["e", "f"]);
  await user.click(screen.getByRole("button", { name: "All 6" }));
  expect(later()).toEqual([]);
  expect(screen.queryByRole("button", { name: "All 6" })).toBeNull();
});

test("a short day has nothing to unfold", async () => {
  await shown(board({ today: ["a", "b", "c", "d"].map((title) => task(title)) }));
  expect(screen.queryByRole("button", { name: /^All/ })).toBeNull();
});

test("states are explained by shape and word below the grid", async () => {
  const { container } = await shown();
  expect([...container.querySelectorAll(".legend > *")].map((one) => one.textContent.replace(/[^a-z]/g, ""))).toEqual([
    "issued",
    "due",
    "lapsed",
    "calibrating",
    "inusenotshown",
    "estimate",
  ]);
});

test("a board that cannot be had says so and can be asked again", async () => {
  api.answers["GET /api/board"] = new Refusal(500, "The file cannot be read.");
  show(<BoardPage />, { at: "/board" });
  expect(await screen.findByText("The file cannot be read.")).toBeTruthy();
});

test("an entry of today is put off with a reason, and stands folded below with it", async () => {
  const { user } = await shown(board({ today: [task("Coupon 103N waits for a reading")] }));
  api.answers["POST /api/today/put-off"] = {};
  await user.click(screen.getByRole("button", { name: "Put off: Coupon 103N waits for a reading" }));
  const dialog = within(screen.getByRole("dialog"));
  await user.click(dialog.getByRole("button", { name: "In a week" }));
  await user.type(dialog.getByLabelText("Why it can wait"), "The calipers are away.");
  await user.click(dialog.getByRole("button", { name: "Put off" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  const sent = api.of("POST", "/api/today/put-off")[0]?.body as Record<string, string>;
  expect(sent).toMatchObject({ key: "read Coupon 103N waits for a reading", reason: "The calipers are away." });
  expect(sent.until).toBe("2026-01-28");
});

test("without a day an entry is dismissed; what was put off can be shown again", async () => {
  const off = { task: "read x", until: null, reason: "Not mine.", initials: "RB", at: "2026-01-21T09:00:00Z" };
  const { user } = await shown(board({ later: [{ task: task("x"), put_off: off }] }));
  api.answers["POST /api/today/bring-back"] = { key: "read x" };
  expect(screen.queryByText(/Not mine/)).toBeNull();
  await user.click(screen.getByRole("button", { name: "1 put off" }));
  expect(screen.getByText(/dismissed by RB: Not mine\./)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Show it again" }));
  await waitFor(() => expect(api.of("POST", "/api/today/bring-back")[0]?.body).toEqual({ key: "read x" }));
});
