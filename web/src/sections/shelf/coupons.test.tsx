import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import CouponKindPage from "./CouponKindPage";
import CouponsPage from "./CouponsPage";

const feature = (key: string, kind: string, size_mm: number) => ({
  key,
  kind,
  size_mm,
  side: "left",
  axis: null,
  hit: [0, 0, 1, 1],
});
const plan = (changes: object = {}) => ({
  kind: "flat",
  title: "Flat coupon",
  width_mm: 52,
  height_mm: 33,
  thickness_mm: 1.35,
  volume_ml: 1.2,
  does_not_tell: "Which supports hold.",
  shapes: [],
  parts: [
    { name: "Walls", tells: "The thinnest that stands.", place: [0, 0, 10, 10] },
    { name: "Slots", tells: "The narrowest that stays open.", place: [0, 12, 10, 10] },
  ],
  features: [feature("w1", "wall", 0.1), feature("w2", "wall", 0.2), feature("s1", "slot", 0.3)],
  ...changes,
});
const printer = (id: string, name: string, changes: object = {}) => ({
  id,
  code: id,
  name,
  pixel_um: 35,
  plate_x_mm: 153,
  plate_y_mm: 87,
  exposure_step_s: 0.1,
  several_exposures: true,
  ...changes,
});
const drawing = (changes: object = {}) => ({
  plan: plan(),
  layers: 27,
  layer_areas_mm2: [1700, 1700, 600],
  is_specimen: false,
  has_floor: true,
  on_one_plate: true,
  series: [
    { key: "walls_mm", label: "Walls", usual_mm: [0.1, 0.2] },
    { key: "slots_mm", label: "Slots", usual_mm: [0.3] },
  ],
  ...changes,
});
const places = {
  plate_x_mm: 153,
  plate_y_mm: 87,
  width_mm: 52,
  height_mm: 33,
  fits: 4,
  places: [
    { x_mm: 2, y_mm: 2, exposure_s: 2 },
    { x_mm: 60, y_mm: 2, exposure_s: 2.6 },
  ],
};
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/printers": {
      items: [printer("c", "Cormorant"), printer("g", "Gannet", { pixel_um: 47, several_exposures: false })],
    },
    "GET /api/resins": { items: [{ id: "m", name: "Slate 2" }] },
    "GET /api/coupon-drawing": drawing(),
    "GET /api/coupon-plate": places,
    "GET /api/coupon-kinds": {
      items: [
        {
          kind: "flat",
          title: "Flat coupon",
          tells: "Finds the range.",
          does_not_tell: "Which supports hold.",
          width_mm: 52,
          height_mm: 33,
          thickness_mm: 1.35,
          volume_ml: 1.2,
          plan: plan(),
        },
      ],
    },
  });
});
const kindPage = (at = "/shelf/coupons/flat") =>
  show(
    <Routes>
      <Route path="/shelf/coupons/:kind" element={<CouponKindPage />} />
    </Routes>,
    { at },
  );
async function kind(at?: string) {
  const drawn = kindPage(at);
  await screen.findByRole("heading", { name: "Flat coupon" });
  return drawn;
}
const asked = (path = "/api/coupon-drawing") => api.of("GET", path).at(-1)!.query;
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");

test("the library is drawn for the first printer and says what each coupon does not tell", async () => {
  show(<CouponsPage />, { at: "/shelf/coupons" });
  const flat = within(await screen.findByRole("article", { name: "Flat coupon" }));
  expect(asked("/api/coupon-kinds")).toEqual({ pixel_um: "35", layer_um: "50" });
  expect(flat.getByText("Which supports hold.", { exact: false })).toBeTruthy();
  expect(flat.getByRole("link", { name: "Flat coupon" }).getAttribute("href")).toBe(
    "/shelf/coupons/flat?printer=c&layer=50",
  );
  expect(flat.getByRole("link", { name: "Masks of Flat coupon" }).getAttribute("href")).toBe(
    "/api/coupon-file?kind=flat&format=masks&pixel_um=35&layer_um=50",
  );
});

test("another printer's pixels draw another library; a layer too thick is refused at its field", async () => {
  const { user } = show(<CouponsPage />, { at: "/shelf/coupons" });
  await user.selectOptions(await screen.findByLabelText("For the printer"), "Gannet, 47 µm");
  await waitFor(() => expect(asked("/api/coupon-kinds").pixel_um).toBe("47"));
  api.answers["GET /api/coupon-kinds"] = new Refusal(422, "Too thick.", { layer_um: "Give at most 300." });
  await user.clear(screen.getByLabelText("Layer height"));
  await user.type(screen.getByLabelText("Layer height"), "900");
  expect((await screen.findAllByText("Give at most 300.")).length).toBeGreaterThan(0);
});

test("a coupon says its size, what each lettered part tells and what it does not tell", async () => {
  await kind();
  expect(
    screen.getByText((words) => words.replace(/\s/g, " ") === "52 × 33 × 1.35 mm, 1.2 ml, 27 layers"),
  ).toBeTruthy();
  expect(
    within(screen.getByRole("list", { name: "What each part tells" }))
      .getAllByRole("listitem")
      .map((one) => one.textContent),
  ).toEqual([
    "AWalls. The thinnest that stands.",
    "BSlots. The narrowest that stays open.",
    "–Does not tell: Which supports hold.",
  ]);
  expect(
    screen.getByRole("img", { name: "Area lit per layer over 3 layers, up to 1700 square millimetres" }),
  ).toBeTruthy();
});

test("the address holds sizes and layers, so that a link shows the same coupon", async () => {
  await kind("/shelf/coupons/flat?printer=g&layer=30&base=6&walls_mm=0.1,0.15&thickness=2");
  expect(asked()).toEqual({
    kind: "flat",
    pixel_um: "47",
    layer_um: "30",
    base_layers: "6",
    transition_layers: "3",
    thickness_mm: "2",
    walls_mm: "0.1,0.15",
  });
  expect(screen.getByRole("link", { name: "STL of Flat coupon" }).getAttribute("href")).toContain(
    "walls_mm=0.1%2C0.15",
  );
});

test("sizes of one's own go into the address; those in use stand as an example", async () => {
  const { user, place } = await kind();
  const walls = screen.getByLabelText("Walls");
  expect(walls.getAttribute("placeholder")).toBe("0.10  0.20");
  await user.type(walls, "0.1 0.14{Enter}");
  await user.tab();
  await waitFor(() => expect(place()).toBe("/shelf/coupons/flat?walls_mm=0.1%2C0.14"));
});

test("while what is asked for cannot be drawn the last drawing stays, and the field says why", async () => {
  const { user, container } = await kind();
  api.answers["GET /api/coupon-drawing"] = new Refusal(422, "Too thin.", { thickness_mm: "Give at least 0.6." });
  await user.type(screen.getByLabelText("Whole thickness"), "0.1");
  expect(await screen.findByText("Give at least 0.6.")).toBeTruthy();
  expect(container.querySelector(".stale")).toBeTruthy();
  expect(screen.getByRole("heading", { name: "Flat coupon" })).toBeTruthy();
});

test("several exposures lie on one plate, shuffled anew when wanted, and are saved as masks", async () => {
  const { user } = await kind("/shelf/coupons/flat?exposures=2,2.6");
  await waitFor(() => expect(text("Several exposures on one plate")).toContain("2 of 4 places taken."));
  expect(asked("/api/coupon-plate")).toMatchObject({
    exposures_s: "2,2.6",
    plate_x_mm: "153",
    plate_y_mm: "87",
    repeats: "1",
    seed: "1",
  });
  expect(text("Several exposures on one plate")).toContain("place and exposure mix");
  await user.click(screen.getByRole("button", { name: "Shuffle again" }));
  await waitFor(() => expect(asked("/api/coupon-plate").seed).toBe("2"));
  expect(screen.getByRole("link", { name: "Masks with manifest" }).getAttribute("href")).toContain(
    "seed=2&format=masks",
  );
});

test("a printer not known to take several exposures is warned of, more coupons than fit are refused", async () => {
  api.answers["GET /api/coupon-plate"] = new Refusal(422, "Too many.", { repeats: "4 fit on this plate." });
  await kind("/shelf/coupons/flat?printer=g&exposures=2,2.6");
  expect(screen.getByText(/Gannet is not known to take several exposures on one plate/)).toBeTruthy();
  expect(await screen.findByText("4 fit on this plate.")).toBeTruthy();
});

test("a wrong exposure stands at the exposures", async () => {
  api.answers["GET /api/coupon-plate"] = new Refusal(422, "No.", { "exposures_s.1": "Give more than 0." });
  await kind("/shelf/coupons/flat?exposures=2,0");
  expect(await screen.findByText("Give more than 0.")).toBeTruthy();
});

test("a specimen has labels instead of exposures", async () => {
  api.answers["GET /api/coupon-drawing"] = drawing({
    plan: plan({ kind: "bend-bar", title: "Bend bar" }),
    is_specimen: true,
    on_one_plate: false,
  });
  const { user } = kindPage("/shelf/coupons/bend-bar");
  await user.click(await screen.findByRole("button", { name: "Labels…" }));
  expect(screen.queryByText("Several exposures on one plate")).toBeNull();
  const dialog = within(await screen.findByRole("dialog"));
  const mark = dialog.getByLabelText("Mark");
  await user.clear(mark);
  await user.type(mark, "no spaces here");
  expect(dialog.getByText("Up to eight letters, digits or hyphens.")).toBeTruthy();
  await user.clear(mark);
  await user.type(mark, "KB");
  await user.clear(dialog.getByLabelText("How many"));
  await user.type(dialog.getByLabelText("How many"), "500");
  expect(dialog.getByText("Give 1 to 400.")).toBeTruthy();
});
