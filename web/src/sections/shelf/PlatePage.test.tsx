import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import PlatePage from "./PlatePage";

const map = {
  id: "m1",
  source: "light meter",
  measured_at: "2026-01-14T09:00:00Z",
  initials: "RB",
  readings: [
    [1.8, 2.0],
    [2.2, 2.0],
  ],
  reference_row: 0,
  reference_column: 1,
};
const result = {
  relative_dose: [
    [0.9, 1],
    [1.1, 1],
  ],
  min_over_max: 0.82,
  usable_fraction: 0.75,
  cells: [
    ["under", "inside"],
    ["over", "inside"],
  ],
  warnings: [{ code: "coarse", message: "Four readings are coarse." }],
};
const set = { code: "S-001", material: "Slate 2", layer_height_um: 50, exposure_s: 3, lower_s: 2.2, upper_s: 4.15 };
const mark = { id: "d1", x_mm: 9, y_mm: 28, width_mm: 2, height_mm: 8, note: "Scratch in the film" };
const plate = (changes: object = {}) => ({
  printer_id: "p",
  printer: "Gannet",
  plate_x_mm: 120,
  plate_y_mm: 68,
  map: null,
  result: null,
  defects: [],
  sets: [],
  grids: [],
  ...changes,
});
const measured = (changes: object = {}) => plate({ map, result, sets: [set], ...changes });
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({});
});
async function shown(held: unknown = plate(), who: string | null = "IM") {
  api.answers["GET /api/printers/p/plate"] = held;
  const drawn = show(
    <Routes>
      <Route path="/shelf/printers/:id/plate" element={<PlatePage />} />
    </Routes>,
    { at: "/shelf/printers/p/plate", who },
  );
  await screen.findByRole("heading", { name: "Gannet: plate" });
  return drawn;
}
const panel = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");

test("a plate nobody measured says what a map is for, and opens its form", async () => {
  await shown();
  expect(panel("Plate")).toContain("Is light even over this plate?");
  expect(screen.getByText(/Never look into the light/)).toBeTruthy();
  expect(screen.getByText(/A mark at the same place in every print belongs here/)).toBeTruthy();
  expect(screen.getByRole("link", { name: "Printers" }).getAttribute("aria-current")).toBe("page");
});

test("readings are typed a row per line, with comma or point, and sent as numbers", async () => {
  api.answers["POST /api/printers/p/plate-maps"] = measured();
  const { user } = await shown();
  const keep = screen.getByRole("button", { name: "Save the map" });
  expect(keep).toHaveProperty("disabled", true);
  await user.type(screen.getByLabelText(/a row of the plate per line/), "1,8 2.0{Enter}2.2;2.0");
  await user.type(screen.getByLabelText("Coupons’ row"), "1");
  await user.type(screen.getByLabelText("Coupons’ column"), "2");
  await user.click(keep);
  await waitFor(() => expect(api.of("POST", "/api/printers/p/plate-maps")).toHaveLength(1));
  expect(api.sent.find((one) => one.method === "POST")!.body).toEqual({
    source: "light meter",
    readings: [
      [1.8, 2],
      [2.2, 2],
    ],
    reference_cell: [0, 1],
    note: "",
  });
  expect(await screen.findByText("The map is kept.")).toBeTruthy();
  expect(screen.getByRole("button", { name: "Measure again…" })).toBeTruthy();
});

test("what is no number is said at the field and cannot be kept", async () => {
  const { user } = await shown();
  await user.type(screen.getByLabelText(/a row of the plate per line/), "1.8 dark");
  expect(screen.getByText("Give numbers, a row per line.")).toBeTruthy();
  expect(screen.getByRole("button", { name: "Save the map" })).toHaveProperty("disabled", true);
});

test("a refusal of one reading stands at the readings, and nothing typed is lost", async () => {
  api.answers["POST /api/printers/p/plate-maps"] = new Refusal(422, "Rows differ.", {
    "readings.1": "Give 2 numbers in every row.",
  });
  const { user } = await shown();
  const field = screen.getByLabelText(/a row of the plate per line/);
  await user.type(field, "1 2{Enter}3");
  await user.click(screen.getByRole("button", { name: "Save the map" }));
  expect(await screen.findByText("Give 2 numbers in every row.")).toBeTruthy();
  expect(field).toHaveProperty("value", "1 2\n3");
});

test("without initials nothing is measured: evidence carries who made it", async () => {
  const { user } = await shown(plate(), null);
  await user.type(screen.getByLabelText(/a row of the plate per line/), "1 2");
  expect(screen.getByText("Choose your initials first (top right).")).toBeTruthy();
  expect(screen.getByRole("button", { name: "Save the map" })).toHaveProperty("disabled", true);
});

test("cells are judged at an issued set's exposure: a word beside the colour, and how much is usable", async () => {
  const { user } = await shown(measured());
  expect(panel("Plate")).toContain("Darkest to brightest 82 %. Four readings are coarse.");
  expect(screen.getByText("coupons stood here")).toBeTruthy();
  expect(screen.queryByText("too little")).toBeNull();
  await user.selectOptions(screen.getByLabelText("Of an issued set"), "S-001");
  await waitFor(() =>
    expect(api.sent.at(-1)!.query).toEqual({ exposure_s: "3", window_lower_s: "2.2", window_upper_s: "4.15" }),
  );
  await screen.findByText("too little");
  expect(screen.getByText("too much")).toBeTruthy();
  expect(panel("Plate")).toContain("Usable: 75 % of the plate at 3 s.");
  await user.selectOptions(screen.getByLabelText("Of an issued set"), "");
  await waitFor(() => expect(screen.queryByText("too little")).toBeNull());
});

test("a window that ends before it begins is said at its end and asks for nothing", async () => {
  const { user } = await shown(measured());
  await user.type(screen.getByLabelText("Exposure"), "3");
  await user.type(screen.getByLabelText("Window from"), "4");
  await user.type(screen.getByLabelText("to"), "2");
  expect(await screen.findByText("Above the lower end.")).toBeTruthy();
  expect(api.sent.every((one) => one.query.exposure_s === undefined)).toBe(true);
});

test("a read grid coupon becomes the map at a touch", async () => {
  api.answers["POST /api/printers/p/plate-maps/from-grid"] = measured();
  const { user } = await shown(plate({ grids: ["150G"] }));
  await user.click(screen.getByRole("button", { name: "Make the map of 150G" }));
  expect(await screen.findByText("The map is made of 150G.")).toBeTruthy();
  expect(api.of("POST", "/api/printers/p/plate-maps/from-grid")[0]!.body).toEqual({ coupon: "150G" });
});

test("a known mark has the same number in the list and on the plate; taking it off can be undone", async () => {
  api.answers["POST /api/defects/d1/retire"] = plate();
  api.answers["POST /api/defects/d1/restore"] = plate();
  const { user, container } = await shown(plate({ defects: [mark] }));
  expect(container.querySelector(".plate-map .defect text")!.textContent).toBe("1");
  expect(screen.getByText("Scratch in the film").textContent).toContain("at 9, 28\u2009mm");
  await user.click(screen.getByRole("button", { name: "Remove mark 1" }));
  await screen.findByText("The mark is removed.");
  await user.click(screen.getByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/defects/d1/restore")).toHaveLength(1));
});

test("a mark needs a place and a word; both are asked for where they are missing", async () => {
  api.answers["POST /api/printers/p/defects"] = new Refusal(422, "Say what it is.", { note: "This is needed." });
  const { user } = await shown();
  const form = screen.getByRole("form", { name: "Add a mark" });
  const add = within(form).getByRole("button", { name: "Add the mark" });
  expect(add).toHaveProperty("disabled", true);
  await user.type(within(form).getByLabelText("X from the corner"), "9");
  await user.type(within(form).getByLabelText("Y from the corner"), "28");
  await user.click(add);
  expect(await within(form).findByText("Say what it is in a few words.")).toBeTruthy();
  api.answers["POST /api/printers/p/defects"] = plate({ defects: [mark] });
  await user.type(within(form).getByLabelText("What it is"), "Scratch");
  await user.click(add);
  await screen.findByText("The mark is on the map.");
  expect(api.of("POST", "/api/printers/p/defects").at(-1)!.body).toMatchObject({ x_mm: 9, y_mm: 28, note: "Scratch" });
  await waitFor(() => expect(within(form).getByLabelText("X from the corner")).toHaveProperty("value", ""));
});
