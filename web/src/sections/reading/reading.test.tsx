import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import { count, counted, draftOf, emptyDraft, rowsOf, seen, tap, toInput, washed, withFeatures } from "./draft";
import ReadingPage from "./ReadingPage";

const feature = (key: string, kind: string, size_mm: number, changes: object = {}) => ({
  key,
  kind,
  size_mm,
  side: "left",
  axis: null,
  hit: [0, 0, 1, 1],
  ...changes,
});
const FEATURES = [
  ...[0.1, 0.2, 0.3].map((size) => feature(`w${size}`, "wall", size)),
  ...[0.1, 0.2].map((size) => feature(`s${size}`, "slot", size, { side: "right" })),
  feature("x8", "outer", 8, { side: null, axis: "x" }),
  ...[-0.035, 0, 0.035].map((size) => feature(`v${size}`, "vernier", size, { side: null })),
  feature("fit", "fit", 6, { side: null }),
  ...[0.6, 0.8, 1].map((size) => feature(`c${size}`, "legible", size, { side: null })),
];
const PLAN = {
  kind: "flat",
  title: "Flat coupon",
  width_mm: 52,
  height_mm: 33,
  thickness_mm: 1.35,
  volume_ml: 1.2,
  does_not_tell: "",
  parts: [],
  shapes: [],
  features: FEATURES,
} as never;
const by = (key: string) => FEATURES.find((one) => one.key === key) as never;

test("a vernier has one pair that just touches, or none", () => {
  const once = seen(emptyDraft(), PLAN, by("v0"));
  expect(once.states).toMatchObject({ v0: "formed" });
  const other = seen(once, PLAN, by("v0.035"));
  expect(other.states).toMatchObject({ v0: undefined, "v0.035": "formed" });
  expect(seen(other, PLAN, by("v0.035")).states["v0.035"]).toBeUndefined();
});

test("codes are read down to the smallest that was tapped", () => {
  expect(seen(emptyDraft(), PLAN, by("c0.8")).states).toMatchObject({
    "c0.6": "absent",
    "c0.8": "formed",
    c1: "formed",
  });
});

test("the gauge piece goes, sticks, does not go, is not tried", () => {
  let draft = emptyDraft();
  const states = [1, 2, 3, 4].map(() => (draft = seen(draft, PLAN, by("fit"))).states.fit);
  expect(states).toEqual(["formed", "partial", "absent", undefined]);
});

test("what is struck out loses its caliper value and is not counted", () => {
  const measured = { ...emptyDraft(), measured: { x8: 8.04 } };
  const struck = tap(measured, PLAN, by("x8"), "strike");
  expect(toInput(struck, PLAN, null).features).toEqual([{ key: "x8", state: "lost", measured_mm: null }]);
  expect(toInput(tap(struck, PLAN, by("x8"), "strike"), PLAN, null).features).toEqual([]);
});

test("a bar that washed away is no bar that nobody measured: it has a state and no size", () => {
  const measured = { ...emptyDraft(), measured: { x8: 8.04 } };
  const gone = washed(measured, "x8", true);
  expect(toInput(gone, PLAN, null).features).toEqual([{ key: "x8", state: "absent", measured_mm: null }]);
  expect(toInput(washed(gone, "x8", false), PLAN, null).features).toEqual([]);
});

test("rows go from small to large by kind and side; a count says how many are read", () => {
  const rows = rowsOf(PLAN);
  expect(rows.map((row) => [row.key, row.features.map((one) => one.size_mm)])).toEqual([
    ["wall left", [0.1, 0.2, 0.3]],
    ["slot right", [0.1, 0.2]],
  ]);
  expect(counted(emptyDraft(), rows[0]!)).toBeNull();
  expect(counted(count(emptyDraft(), rows[0]!, 0), rows[0]!)).toBe(0);
});

test("a draft begins from what was read, and takes over what a simulated reader saw", () => {
  const reading = {
    features: [
      { feature_key: "w0.1", state: "absent", measured_mm: null },
      { feature_key: "x8", state: null, measured_mm: 8.02 },
    ],
    damaged: false,
    unwashed: true,
    uncured: false,
    note: "dusty",
  };
  const draft = draftOf(reading as never);
  expect(draft).toMatchObject({ states: { "w0.1": "absent" }, measured: { x8: 8.02 }, unwashed: true, note: "dusty" });
  const read = withFeatures(draft, [
    { key: "w0.2", state: "formed" },
    { key: "x8", measured_mm: 8.1 },
  ]);
  expect(read).toMatchObject({ states: { "w0.2": "formed" }, measured: { x8: 8.1 }, note: "dusty" });
  expect(read.states["w0.1"]).toBeUndefined();
});

const coupon = (changes: object = {}) => ({
  id: "k",
  code: "104R",
  plan: PLAN,
  exposure_s: 3.1,
  exposure_step_s: 0.1,
  effective_s: 3.1,
  status: "printed",
  print_id: "p",
  calibration_id: "c",
  calibration_code: "C-001",
  arm_id: "a",
  material: "Slate 2",
  printer: "Cormorant",
  reading: null,
  latest_id: null,
  history: [],
  judgement: null,
  photos: [],
  findings: [],
  blind: [],
  simulated: false,
  finish: "two baths and cure",
  finish_steps: [],
  timers: [],
  dose_ratio: null,
  check_of: null,
  closed: false,
  next_unread: null,
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  wide();
  api = fakeApi({
    "GET /api/calibrations/c": {
      id: "c",
      low_s: 1.5,
      high_s: 4,
      exposure_step_s: 0.1,
      arms: [
        {
          id: "a",
          window: null,
          coupons: [{ code: "104R", kind: "flat", exposure_s: 3.1, status: "printed", verdict: null, left_out: false }],
        },
      ],
    },
    "POST /api/coupons/104R/preview": {
      verdict: { verdict: "ok", under: [], over: [], growth_um: 22 },
      window: null,
      findings: ["Loss on the left only."],
    },
    "GET /api/coupons/104R/blind-readings": { items: [] },
  });
});
const page = (held: object) => {
  api.answers["GET /api/coupons/104R"] = held;
  return show(
    <Routes>
      <Route path="/coupons/:code" element={<ReadingPage />} />
      <Route path="*" element={null} />
    </Routes>,
    { at: "/coupons/104R" },
  );
};

test("counts and calipers are typed one after the other, and the coupon is saved with what was read", async () => {
  api.answers["POST /api/coupons/104R/readings"] = coupon({ status: "read", latest_id: "r1", next_unread: "105U" });
  const { user, place } = page(coupon());
  await user.type(await screen.findByLabelText("Walls standing, left"), "2{Enter}");
  expect(document.activeElement).toBe(screen.getByLabelText("Slots open, right"));
  await user.type(screen.getByLabelText("Slots open, right"), "1{Enter}");
  await user.type(screen.getByLabelText("Bar 8 along X"), "8,04{Enter}");
  expect(document.activeElement).toBe(screen.getByRole("button", { name: "Save the reading" }));
  expect(await screen.findByText("every limit is met")).toBeTruthy();
  expect(screen.getByText("Loss on the left only.")).toBeTruthy();
  await user.keyboard("{Enter}");
  await waitFor(() => expect(place()).toBe("/coupons/105U"));
  const sent = api.of("POST", "/api/coupons/104R/readings")[0]!.body as {
    features: { key: string; state: string | null; measured_mm: number | null }[];
  };
  expect(sent.features).toEqual([
    { key: "w0.1", state: "absent", measured_mm: null },
    { key: "w0.2", state: "formed", measured_mm: null },
    { key: "w0.3", state: "formed", measured_mm: null },
    { key: "s0.1", state: "absent", measured_mm: null },
    { key: "s0.2", state: "formed", measured_mm: null },
    { key: "x8", state: null, measured_mm: 8.04 },
  ]);
});

test("the last coupon read leads back to its calibration", async () => {
  api.answers["POST /api/coupons/104R/readings"] = coupon({ status: "read", latest_id: "r1" });
  const { user, place } = page(coupon());
  await user.type(await screen.findByLabelText("Walls standing, left"), "3");
  await user.click(screen.getByRole("button", { name: "Save the reading" }));
  await waitFor(() => expect(place()).toBe("/calibrate/c"));
});

test("more than there are is said at once, and holds the reading back", async () => {
  const { user } = page(coupon());
  await user.type(await screen.findByLabelText("Walls standing, left"), "7");
  expect(screen.getByText("There are 3: give 0 to 3.")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Save the reading" }).disabled).toBe(true);
});

test.each([
  ["seven", "Give a number."],
  ["NaN", "Give a number."],
  ["1e9", "“e9” is no unit for this. Give mm."],
  ["7 kg", "“kg” is no unit for this. Give mm."],
])("a caliper value that cannot be read (%s) is said at its field and holds the reading back", async (typed, said) => {
  const { user } = page(coupon());
  await user.type(await screen.findByLabelText("Walls standing, left"), "2");
  await user.type(screen.getByLabelText("Bar 8 along X"), typed);
  expect(screen.getByText(said)).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Save the reading" }).disabled).toBe(true);
  expect(screen.getByLabelText<HTMLInputElement>("Walls standing, left").value).toBe("2");
});

test("neighbours in exposure are one step away, and only where there are some", async () => {
  page(coupon({ previous_code: "103N", next_code: null }));
  const less = await screen.findByRole("link", { name: "Less light: 103N" });
  expect(less.getAttribute("href")).toBe("/coupons/103N");
  expect(screen.queryByRole("link", { name: /More light/ })).toBeNull();
});

test("what was read before is corrected with a reason, and a caliper value that cannot be stands at its field", async () => {
  const reading = {
    id: "r0",
    features: [{ feature_key: "x8", state: null, measured_mm: 8.02 }],
    damaged: false,
    unwashed: false,
    uncured: false,
    note: "",
  };
  api.answers["POST /api/coupons/104R/readings"] = new Refusal(422, "Look at the fields.", {
    "features.0.measured_mm": "80 mm? 8 was drawn.",
  });
  const { user } = page(coupon({ reading, latest_id: "r0" }));
  const bar = await screen.findByLabelText<HTMLInputElement>("Bar 8 along X");
  expect(bar.value).toBe("8.02");
  await user.clear(bar);
  await user.type(bar, "80");
  await user.type(screen.getByLabelText("Why the earlier reading is corrected"), "slipped");
  await user.click(screen.getByRole("button", { name: "Save the reading" }));
  expect(await screen.findByText("80 mm? 8 was drawn.")).toBeTruthy();
  expect(api.of("POST", "/api/coupons/104R/readings")[0]!.body).toMatchObject({
    supersedes_id: "r0",
    reason: "slipped",
  });
});

test("what is typed is kept in this browser until it is saved, and can be started over", async () => {
  const first = page(coupon());
  await first.user.type(await screen.findByLabelText("Walls standing, left"), "2");
  first.unmount();
  const second = page(coupon());
  expect((await screen.findByLabelText<HTMLInputElement>("Walls standing, left")).value).toBe("2");
  await second.user.click(screen.getByRole("button", { name: "Start over" }));
  expect(screen.getByLabelText<HTMLInputElement>("Walls standing, left").value).toBe("");
});

test("an uncured coupon is named, and the caution says what it is worth", async () => {
  const { user } = page(coupon());
  expect(await screen.findByText(/Read after two baths and cure\. An uncured reading is provisional\./)).toBeTruthy();
  await user.click(screen.getByLabelText("uncured"));
  expect(screen.getByText(/It is left out of the window, and named/)).toBeTruthy();
});

test("a tap on the drawing counts the series down to what was tapped", async () => {
  page(coupon());
  const drawing = await screen.findByRole("button", { name: /^0\.2 mm wall left/ });
  fireEvent.click(drawing);
  expect(screen.getByLabelText<HTMLInputElement>("Walls standing, left").value).toBe("2");
  expect(screen.getByRole("button", { name: "0.1 mm wall left: missing" })).toBeTruthy();
});

test("a planned coupon is not read; its files are here", async () => {
  page(coupon({ status: "planned" }));
  expect(await screen.findByText(/This coupon is not printed yet/)).toBeTruthy();
  expect(screen.getByRole("link", { name: "STL of coupon 104R" }).getAttribute("href")).toBe(
    "/api/coupons/104R/file?format=stl",
  );
});

test("a coupon that is gone says what became of it, and may be found again", async () => {
  api.answers["POST /api/coupons/104R/found"] = coupon();
  const { user } = page(coupon({ status: "gone", gone_reason: "dropped into the drain" }));
  expect(await screen.findByText("Lost or destroyed: dropped into the drain. It cannot be read.")).toBeTruthy();
  expect(screen.queryByRole("link", { name: /^STL/ })).toBeNull();
  await user.click(screen.getByRole("button", { name: "It is found again" }));
  await waitFor(() => expect(api.of("POST", "/api/coupons/104R/found")).toHaveLength(1));
});

test("another tab's draft is taken up, unless the coupon was read since", async () => {
  const kept = (on: string | null) =>
    localStorage.setItem(
      "setback.reading.104R.other-tab",
      JSON.stringify({ draft: { ...emptyDraft(), note: "half done" }, on }),
    );
  kept(null);
  const first = page(coupon());
  expect((await screen.findByLabelText<HTMLTextAreaElement>("Note")).value).toBe("half done");
  first.unmount();
  kept("r0");
  page(coupon({ latest_id: "r1" }));
  expect((await screen.findByLabelText<HTMLTextAreaElement>("Note")).value).toBe("");
});

const read = (initials: string, state: string) => ({
  id: `by ${initials}`,
  initials,
  read_at: "2026-02-01T10:02:00Z",
  withdrawn: false,
  supersedes_id: null,
  reason: null,
  features: [{ feature_key: "w0.1", state, measured_mm: null }],
  damaged: false,
  unwashed: false,
  uncured: false,
  note: "",
});

test("two people read one coupon: the second sees both readings, keeps the entry and gives a reason", async () => {
  const theirs = read("RB", "formed");
  api.answers["POST /api/coupons/104R/readings"] = () => {
    api.answers["GET /api/coupons/104R"] = coupon({ reading: theirs, latest_id: theirs.id, history: [theirs] });
    return new Refusal(409, "RB read coupon 104R meanwhile.");
  };
  const { user } = page(coupon());
  await user.type(await screen.findByLabelText(/^Walls standing/), "2");
  await user.click(screen.getByRole("button", { name: "Save the reading" }));
  const both = await screen.findByRole("region", { name: "Two readings" });
  expect(both.textContent).toContain("RB read this coupon");
  const row = within(both).getByRole("row", { name: /Walls standing/ });
  expect(row.textContent).toMatch(/1 of 3.*2 of 3/);
  await user.type(screen.getByLabelText("Why the earlier reading is corrected"), "a hair was taken for a wall");
  api.answers["POST /api/coupons/104R/readings"] = coupon({ next_unread: null });
  await user.click(screen.getByRole("button", { name: "Save the reading" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/coupons/104R/readings").at(-1)?.body).toMatchObject({
      supersedes_id: "by RB",
      reason: "a hair was taken for a wall",
    }),
  );
});

test("a draft of before says when it was made and can be discarded", async () => {
  const { user, unmount } = page(coupon());
  await user.type(await screen.findByLabelText(/^Walls standing/), "2");
  unmount();
  const again = page(coupon());
  expect((await screen.findByText(/^Draft of /)).textContent).toContain("Discard");
  expect(screen.getByLabelText<HTMLInputElement>(/^Walls standing/).value).toBe("2");
  await again.user.click(screen.getByRole("button", { name: "Discard" }));
  expect(screen.getByLabelText<HTMLInputElement>(/^Walls standing/).value).toBe("");
  expect(screen.queryByText(/^Draft of /)).toBeNull();
});
