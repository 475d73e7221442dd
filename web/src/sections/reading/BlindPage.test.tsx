import { screen, waitFor } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import BlindPage from "./BlindPage";

const feature = (key: string, kind: string, size_mm: number, changes: object = {}) => ({
  key,
  kind,
  size_mm,
  side: "left",
  axis: null,
  hit: [0, 0, 1, 1],
  ...changes,
});
const plan = {
  kind: "flat",
  title: "Flat coupon",
  width_mm: 52,
  height_mm: 33,
  thickness_mm: 1.35,
  volume_ml: 1.2,
  does_not_tell: "",
  parts: [],
  shapes: [],
  features: [
    ...[0.1, 0.2, 0.3].map((size) => feature(`w${size}`, "wall", size)),
    feature("x8", "outer", 8, { side: null, axis: "x" }),
  ],
};
const coupon = {
  id: "b",
  code: "104R",
  material: "Slate 2",
  printer: "Cormorant",
  layer_height_um: 50,
  exposure_s: 3.3,
  asked_by: "IM",
  first_reader: "IM",
  photo_ids: ["f1"],
  plan,
};
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/blind-readings/b": coupon });
});
async function shown(who: string | null = "TO") {
  const drawn = show(
    <Routes>
      <Route path="/blind/:id" element={<BlindPage />} />
      <Route path="/coupons/:code" element={<p>the coupon's page</p>} />
    </Routes>,
    { at: "/blind/b", who },
  );
  if (api.answers["GET /api/blind-readings/b"] === coupon)
    await screen.findByRole("heading", { name: "Second reading of 104R" });
  return drawn;
}
const save = () => screen.getByRole("button", { name: "Save the second reading" });

test("a second reading starts from nothing: no field holds what the first reader saw", async () => {
  await shown();
  expect(
    screen.getByText("Read it as if nobody had. What the first reader saw is kept from you until you save."),
  ).toBeTruthy();
  for (const field of screen.getAllByRole("textbox")) expect(field).toHaveProperty("value", "");
  expect(screen.getByRole("img", { name: "Coupon 104R" }).getAttribute("src")).toBe("/api/photos/f1");
  expect(save()).toHaveProperty("disabled", true);
});

test("who read it first cannot read it blind", async () => {
  const { user } = await shown("IM");
  expect(screen.getByText(/IM made the first reading: another technician must make the second/)).toBeTruthy();
  await user.type(screen.getByLabelText("Walls standing, left"), "2");
  expect(save()).toHaveProperty("disabled", true);
});

test("a reading carries who made it", async () => {
  const { user } = await shown(null);
  await user.type(screen.getByLabelText("Walls standing, left"), "2");
  expect(screen.getByText(/Choose your initials first/)).toBeTruthy();
  expect(save()).toHaveProperty("disabled", true);
});

test("counts and calipers are sent as features, and what the two say is told", async () => {
  api.answers["POST /api/blind-readings/b"] = {
    comparison: { summary: "Both read 2 walls; calipers differ by 10 µm." },
  };
  const { user, place } = await shown();
  await user.type(screen.getByLabelText("Walls standing, left"), "2");
  await user.type(screen.getByLabelText("Bar 8 along X"), "8.03");
  await user.type(screen.getByLabelText("Note"), "by lamp");
  await user.click(save());
  expect(await screen.findByText("Both read 2 walls; calipers differ by 10 µm.")).toBeTruthy();
  expect(api.of("POST", "/api/blind-readings/b")[0]!.body).toEqual({
    features: [
      { key: "w0.1", state: "absent", measured_mm: null },
      { key: "w0.2", state: "formed", measured_mm: null },
      { key: "w0.3", state: "formed", measured_mm: null },
      { key: "x8", state: null, measured_mm: 8.03 },
    ],
    note: "by lamp",
  });
  await waitFor(() => expect(place()).toBe("/coupons/104R"));
});

test("Enter goes to the next field and at the end to saving; a count beyond the row is refused at its field", async () => {
  const { user } = await shown();
  await user.type(screen.getByLabelText("Walls standing, left"), "9{Enter}");
  expect(screen.getByText("There are 3: give 0 to 3.")).toBeTruthy();
  expect(document.activeElement).toBe(screen.getByLabelText("Bar 8 along X"));
  await user.keyboard("8.01{Enter}");
  expect(save()).toHaveProperty("disabled", true);
});

test("what was begun is there again after the page was left; what was refused is not lost", async () => {
  const first = await shown();
  await first.user.type(screen.getByLabelText("Walls standing, left"), "1");
  first.unmount();
  api.answers["POST /api/blind-readings/b"] = new Refusal(409, "It was read meanwhile.");
  const { user } = await shown();
  expect(screen.getByLabelText("Walls standing, left")).toHaveProperty("value", "1");
  await user.click(save());
  expect(await screen.findByText("It was read meanwhile.")).toBeTruthy();
  expect(screen.getByLabelText("Walls standing, left")).toHaveProperty("value", "1");
});

test("what a tap means is chosen by button or by key", async () => {
  const { user } = await shown();
  const mode = () => screen.getAllByRole("button", { pressed: true }).map((one) => one.textContent);
  expect(mode()).toEqual(["Series"]);
  await user.keyboard("x");
  expect(mode()).toEqual(["Strike out"]);
  expect(screen.getByText(/what was lost in handling/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "One by one" }));
  expect(mode()).toEqual(["One by one"]);
});

test("a blind reading nobody asked for is said to be missing", async () => {
  api.answers["GET /api/blind-readings/b"] = new Refusal(404, "There is no such second reading.");
  await shown();
  expect(await screen.findByText("There is no such second reading.")).toBeTruthy();
});
