import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import ShelfPage from "./ShelfPage";

const resin = (changes: object = {}) => ({
  id: "m",
  code: "R-001",
  name: "Slate 2",
  maker: "Tidewrack Works",
  line: "Slate",
  colour: "grey",
  family: "basic",
  opacity: "opaque",
  wash_class: "solvent",
  chemistry: "acrylate",
  maker_low_s: 1.5,
  maker_high_s: 4,
  maker_temp_low_c: null,
  maker_temp_high_c: null,
  density_g_ml: 1.1,
  price_per_l: 41,
  heat_capacity_j_g_k: null,
  viscosity_mpa_s: 300,
  vat_hours: null,
  safety_sheet_url: null,
  mixing_approved: false,
  retired_at: null,
  version: 3,
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/resins": { items: [resin()] },
    "GET /api/bottles": { items: [] },
    "GET /api/printers": { items: [] },
    "GET /api/finish-routes": { items: [] },
  });
});
const at = (address: string) =>
  show(
    <Routes>
      <Route path="/shelf/:kind" element={<ShelfPage />} />
      <Route path="*" element={<p>elsewhere</p>} />
    </Routes>,
    { at: address },
  );
const form = () => within(screen.getByRole("dialog"));

test.each([
  ["/shelf/printers", /A printer sets the exposure step/, "Add a printer"],
  ["/shelf/finish-routes", /./, "Add a finish route"],
])("an empty part of the shelf says what it is for and begins it", async (address, purpose, action) => {
  const { user, place } = at(address);
  expect((await screen.findAllByText(purpose)).length).toBeGreaterThan(0);
  await user.click(screen.getAllByRole("button", { name: action }).at(-1)!);
  expect(place()).toBe(`${address}?new=1`);
});

test("a bath says what went through it, is filled anew, and is as it was with undo", async () => {
  const bath = { id: "w", code: "WB-001", name: "Dirty bath", wash_fluid: "solvent", stage: "dirty", volume_l: 4 };
  const spent = { ...bath, most_loads: 60, loads: 60, filled_at: "2026-01-09T09:00:00Z", version: 1, retired_at: null };
  api.answers["GET /api/wash-baths"] = { items: [spent] };
  api.answers["POST /api/wash-baths/w/fillings"] = () => {
    api.answers["GET /api/wash-baths"] = { items: [{ ...spent, loads: 0 }] };
    return { ...spent, loads: 0 };
  };
  api.answers["POST /api/wash-baths/w/fillings/withdraw"] = () => {
    api.answers["GET /api/wash-baths"] = { items: [spent] };
    return spent;
  };
  const { user } = at("/shelf/wash-baths");
  expect(await screen.findByText("spent: fill it anew")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Dirty bath is filled anew now" }));
  expect(await screen.findByText("0 of 60 loads")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Undo" }));
  expect(await screen.findByText("60 of 60 loads")).toBeTruthy();
});

test("a bottle needs its resin first", async () => {
  api.answers["GET /api/resins"] = { items: [] };
  at("/shelf/bottles");
  expect((await screen.findByRole("link", { name: "Add a resin" })).getAttribute("href")).toBe("/shelf/resins?new=1");
  expect(screen.queryByRole("button", { name: "Add a bottle" })).toBeNull();
});

test("what is needed is asked for before anything is sent", async () => {
  const { user } = at("/shelf/resins?new=1");
  await screen.findByRole("dialog");
  await user.click(form().getByRole("button", { name: "Save" }));
  expect((await form().findAllByText("This is needed.")).length).toBeGreaterThan(2);
  expect(api.of("POST", "/api/resins")).toEqual([]);
});

test("a resin is added with units as people write them, and empty fields are nothing", async () => {
  api.answers["POST /api/resins"] = resin({ name: "Kelpflex" });
  const { user, place } = at("/shelf/resins?new=1");
  await screen.findByRole("dialog");
  expect(form().getByText(/Uncured resin sensitises skin/)).toBeTruthy();
  for (const [label, text] of [
    ["Name *", "Kelpflex"],
    ["Maker *", "Tidewrack Works"],
    ["Colour *", "sand"],
    ["Exposure from", "2,5 s"],
    ["Temperature from", "72 F"],
  ] as const)
    await user.type(form().getByLabelText(label), text);
  await user.selectOptions(form().getByLabelText("Family *"), "flexible");
  await user.click(form().getByRole("button", { name: "Save" }));
  expect(await screen.findByText("Kelpflex is on the shelf.")).toBeTruthy();
  const sent = api.of("POST", "/api/resins")[0]!.body as Record<string, unknown>;
  expect(sent).toMatchObject({
    name: "Kelpflex",
    family: "flexible",
    maker_low_s: 2.5,
    maker_high_s: null,
    price_per_l: null,
  });
  expect(sent.maker_temp_low_c).toBeCloseTo(22.2, 1);
  await waitFor(() => expect(place()).toBe("/shelf/resins"));
});

test("what the server refuses stands at its field, and what belongs to none above", async () => {
  api.answers["PUT /api/resins/m"] = new Refusal(422, "No.", { name: "Slate 2 is on the shelf already." });
  const { user } = at("/shelf/resins?edit=m");
  await screen.findByRole("dialog");
  await user.click(form().getByRole("button", { name: "Save" }));
  expect(await form().findByText("Slate 2 is on the shelf already.")).toBeTruthy();
  api.answers["PUT /api/resins/m"] = new Refusal(409, "RB changed it meanwhile.");
  await user.click(form().getByRole("button", { name: "Save" }));
  expect(await form().findByText("RB changed it meanwhile.")).toBeTruthy();
});

test("a change carries the version it was read at", async () => {
  api.answers["PUT /api/resins/m"] = resin();
  const { user } = at("/shelf/resins");
  await user.click(await screen.findByRole("button", { name: "Edit Slate 2" }));
  const name = form().getByLabelText("Name *");
  await user.clear(name);
  await user.type(name, "Slate 3");
  await user.click(form().getByRole("button", { name: "Save" }));
  await waitFor(() => expect(api.of("PUT", "/api/resins/m")[0]?.body).toMatchObject({ name: "Slate 3", version: 3 }));
});

test("what is retired can be had back at once, and is found among the retired", async () => {
  Object.assign(api.answers, { "POST /api/resins/m/retire": resin(), "POST /api/resins/m/restore": resin() });
  const { user, place } = at("/shelf/resins");
  await user.click(await screen.findByRole("button", { name: "Retire Slate 2" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/resins/m/restore")).toHaveLength(1));
  api.answers["GET /api/resins"] = { items: [] };
  await user.click(screen.getByRole("button", { name: "Show retired" }));
  expect(await screen.findByText(/No resin is retired\./)).toBeTruthy();
  expect(place()).toBe("/shelf/resins?retired=1");
});

test("what cannot be retired is said", async () => {
  api.answers["POST /api/resins/m/retire"] = new Refusal(409, "Slate 2 is in the vat of Cormorant.");
  const { user } = at("/shelf/resins");
  await user.click(await screen.findByRole("button", { name: "Retire Slate 2" }));
  expect(await screen.findByText("Slate 2 is in the vat of Cormorant.")).toBeTruthy();
});

test("n adds one more of what is on screen; an unknown part of the shelf leads to resins", async () => {
  const { user, place, unmount } = at("/shelf/resins");
  expect((await screen.findByRole("link", { name: /^Slate 2/ })).getAttribute("href")).toBe("/materials/m");
  await user.keyboard("n");
  expect(place()).toBe("/shelf/resins?new=1");
  unmount();
  expect(at("/shelf/spoons").place()).toBe("/shelf/resins");
});

test("another one is begun from one that is here, and a name that is taken is said at its place", async () => {
  api.answers["POST /api/resins"] = new Refusal(422, "No.", { name: "There is a material called Slate 2 copy." });
  const { user, place } = at("/shelf/resins");
  await user.click(await screen.findByRole("button", { name: "Duplicate Slate 2" }));
  expect(place()).toBe("/shelf/resins?new=1&like=m");
  const name = form().getByLabelText<HTMLInputElement>("Name *");
  expect(name.value).toBe("Slate 2 copy");
  await user.click(form().getByRole("button", { name: "Save" }));
  expect(await screen.findByText("There is a material called Slate 2 copy.")).toBeTruthy();
  expect(name.value).toBe("Slate 2 copy");
});
