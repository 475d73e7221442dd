import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import SetPage from "./SetPage";

const line = (name: string, value: string, unit = "", group = "Settings") => ({ group, name, value, unit });
const card = (changes: object = {}) => ({
  id: "s",
  code: "S-002",
  version: 2,
  versions: [
    [2, "S-002"],
    [1, "S-001"],
  ],
  newest: true,
  material: "Slate 2",
  maker: "Tidewrack Works",
  printer: "Cormorant",
  layer_height_um: 50,
  exposure_s: 3,
  exposure_step_s: 0.1,
  policy: "centre",
  reason: "Walls and slots alike.",
  calibration_id: "c",
  calibration_code: "C-001",
  core_version: "1.0",
  hash: "9f".repeat(32),
  initials: "IM",
  issued_at: "2026-01-12T09:00:00Z",
  rest_is_delay: false,
  window: {
    window: { lower_s: 2.17, lower_from: "walls", upper_s: 4.15, upper_from: "slots", latitude_pct: 64.5 },
    lanes: { walls: { name: "Thin walls" }, slots: { name: "Thin slots" } },
    ladder_s: [1.5, 4.2],
    method: "chance 1",
  },
  chance: 0.97,
  outside_reason: null,
  earlier_method: false,
  lines: [
    line("Exposure", "3.0", "s"),
    line("Edge shift", "-21", "µm"),
    line("Temperature", "21 to 27", "°C", "Valid for"),
    line("Window", "2.17 to 4.15", "s", "Valid for"),
  ],
  finish_route: "Two-bath solvent, version 1",
  finish_steps: ["Wash in solvent", "Cure 6 min"],
  bottle_left_ml: 730,
  usable_basis: null,
  confirmations: [],
  evidence: [
    { label: "coupon 103N", link: "/coupons/103N" },
    { label: "bottle B-001", link: "/shelf" },
  ],
  ...changes,
});
const compared = {
  this: "S-002",
  other: "S-001",
  changed: 2,
  lines: [
    { group: "Settings", name: "Size compensation", unit: "µm", this: "~-22", other: "~-29", changed: true },
    { group: "Settings", name: "Exposure", unit: "s", this: "3.0", other: "2.8", changed: true },
    { group: "Settings", name: "Base layers", unit: "", this: "4", other: "4", changed: false },
    { group: "Finish", name: "step 1", unit: "", this: "Wash in solvent", other: "—", changed: false },
  ],
};
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/sets/S-002/life": { newest: false },
    "GET /api/sets/S-002/qualifications": { items: [] },
    "GET /api/sets/S-002/compare": compared,
  });
});
async function shown(held: object = card(), at = "/sets/S-002") {
  api.answers["GET /api/sets/S-002"] = held;
  const page = show(
    <Routes>
      <Route path="/sets/:code" element={<SetPage />} />
    </Routes>,
    { at },
  );
  if (!(held instanceof Refusal)) await screen.findByRole("article", { name: "Card of S-002" });
  return page;
}
const text = (element: Element) => element.textContent.replace(/\s/g, " ");

test("the card names its lanes, marks a minus as one, and says each line once", async () => {
  await shown();
  const article = screen.getByRole("article");
  expect(text(article)).toContain("Window 2.17 (thin walls) to 4.15 s (thin slots), latitude 65 %");
  expect(text(screen.getByRole("region", { name: "Settings" }))).toContain("Edge shift−21 µm");
  const limits = screen.getByRole("region", { name: "Limits" });
  expect(text(limits)).toContain("21 to 27 °C");
  expect(text(limits)).not.toContain("Window");
  expect(text(limits)).toContain("730 ml left in the bottle");
  expect(within(limits).getAllByRole("listitem").map(text)).toEqual(["Wash in solvent", "Cure 6 min"]);
  expect(screen.getByRole("link", { name: "coupon 103N" }).getAttribute("href")).toBe("/coupons/103N");
});

test("the card says the chance at its exposure; outside an offer it says why it was issued and that it never qualifies", async () => {
  const { unmount } = await shown();
  expect(text(screen.getByRole("article"))).toContain("At 3.0 s all requirements hold with 97 %.");
  unmount();
  const window = { window: null, lanes: {}, ladder_s: [1.5, 4.2], method: "chance 1" };
  await shown(card({ window, chance: 0.4, outside_reason: "A mould of one day." }));
  const article = text(screen.getByRole("article"));
  expect(article).toContain("Issued outside an offer; it never qualifies. A mould of one day.");
  expect(article).toContain("The evidence made no window when this set was issued.");
});

test("a set of the earlier method keeps its window and can be looked at anew", async () => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe = () => undefined;
      disconnect = () => undefined;
    },
  );
  api.answers["GET /api/sets/S-002/anew"] = {
    window: { ...card().window, p_holds: [], missing_lanes: [], predictions: [], lanes: {}, warnings: [] },
    chance: 0.71,
    offered: false,
  };
  const { user } = await shown(card({ chance: null, earlier_method: true }));
  await user.click(screen.getByRole("button", { name: "Look at its evidence anew" }));
  expect(
    await screen.findByText(/all requirements hold with 71.% at this exposure\. It would not be offered/),
  ).toBeTruthy();
});

test("a card without a finish route or limits of a plate says so or leaves it out", async () => {
  await shown(
    card({
      finish_route: null,
      finish_steps: [],
      bottle_left_ml: null,
      usable_basis: "grid of 9",
      rest_is_delay: true,
    }),
  );
  expect(screen.getByText("not noted")).toBeTruthy();
  expect(screen.getByText("Usable plate by the grid of 9")).toBeTruthy();
  expect(screen.getByText(/delay counts from the start of motion/)).toBeTruthy();
  expect(screen.queryByText(/left in the bottle/)).toBeNull();
});

test("confirmations carry a shape and a word, not colour alone", async () => {
  const one = (finding: boolean, code: string) => ({
    code,
    finding,
    what: `plate ${code}`,
    place: "centre",
    initials: "TB",
    confirmed_at: "2026-01-13T09:00:00Z",
  });
  await shown(card({ confirmations: [one(false, "110A"), one(true, "111B")] }));
  expect(
    within(screen.getByRole("list", { name: "Confirmations" }))
      .getAllByRole("listitem")
      .map((item) => text(item).split(":")[0]),
  ).toEqual(["■ passed", "▲ finding"]);
});

test("an older version leads to the newest", async () => {
  await shown(
    card({
      newest: false,
      versions: [
        [3, "S-003"],
        [2, "S-002"],
      ],
    }),
  );
  expect(screen.getByText("version 2, superseded")).toBeTruthy();
  expect(screen.getByRole("link", { name: "S-003" }).getAttribute("href")).toBe("/sets/S-003");
});

test("two versions side by side show what changed first, all on request, and the address keeps it", async () => {
  const { user, place } = await shown();
  await user.click(screen.getByRole("button", { name: "Compare with" }));
  await user.click(screen.getByRole("button", { name: "S-001, version 1" }));
  const panel = await screen.findByRole("region", { name: "Two versions" });
  await within(panel).findByText("S-002 beside S-001: 2 lines changed");
  expect(text(panel)).toContain("Size compensation~−22 µm~−29 µm");
  expect(within(panel).getAllByRole("rowheader").map(text)).toEqual(["≠ Size compensation", "≠ Exposure"]);
  expect(place()).toBe("/sets/S-002?with=S-001");
  await user.click(within(panel).getByLabelText("All lines"));
  expect(within(panel).getAllByRole("rowheader").map(text)).toEqual([
    "≠ Size compensation",
    "≠ Exposure",
    "Base layers",
    "Finish step 1",
  ]);
  await user.click(within(panel).getByRole("button", { name: "Close" }));
  await waitFor(() => expect(place()).toBe("/sets/S-002"));
});

test("a first version has nothing to be compared with", async () => {
  await shown(card({ version: 1, versions: [[1, "S-002"]] }));
  expect(screen.queryByRole("button", { name: "Compare with" })).toBeNull();
});

test("the card is printed by its button and by its key", async () => {
  const print = vi.fn();
  vi.stubGlobal("print", print);
  const { user } = await shown();
  await user.click(screen.getByRole("button", { name: "Print the card" }));
  await user.keyboard("p");
  expect(print).toHaveBeenCalledTimes(2);
});

test("what was signed on it stands with its state; with nothing signed, there is a way", async () => {
  const nothing = await shown();
  expect((await screen.findByRole("link", { name: "Hold it against a brief" })).getAttribute("href")).toBe("/qualify");
  nothing.unmount();
  api.answers["GET /api/sets/S-002/qualifications"] = {
    items: [
      {
        id: "q",
        code: "Q-001",
        brief: "Filter baffles",
        state: "lapsed",
        initials: "TB",
        signed_at: "2026-01-15T09:00:00Z",
      },
    ],
  };
  await shown();
  const signed = await screen.findByRole("link", { name: "Filter baffles" });
  expect(signed.getAttribute("href")).toBe("/qualify/records/Q-001");
  expect(text(signed.closest("li")!)).toMatch(/lapsed .*Q-001, TB, 15 Jan/i);
});

test("a set nobody issued is said to be missing", async () => {
  await shown(new Refusal(404, "There is no parameter set S-002.") as unknown as object);
  expect(await screen.findByText("There is no parameter set S-002.")).toBeTruthy();
});
