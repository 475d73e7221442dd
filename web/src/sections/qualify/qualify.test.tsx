import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import CandidatesPage from "./CandidatesPage";
import VerdictPage from "./VerdictPage";

const judged = (status: string, changes: object = {}) => ({
  name: "Flexes to break",
  unit: "cycles",
  status,
  words: `It is ${status}.`,
  sure: "95 % interval",
  line: 600,
  decimals: 0,
  left_out: [],
  need: null,
  demand: {
    property: "flexing.cycles",
    at: "least",
    limit: 600,
    kind: "must",
    basis: "mean",
    note: "",
    margin_pct: 0,
    amount: null,
    conditions: [{ key: "temp_c", value: 10 }],
  },
  used: {
    source: "T-003",
    exact: false,
    made_under: "10 °C, sea water",
    value: 700,
    ci: [650, 750],
    values: [700],
    unbroken: [],
    bound_low: null,
    bound_high: null,
  },
  ...changes,
});
const candidate = (code: string, verdict: string, changes: object = {}) => ({
  set_id: code,
  set_code: code,
  material: "Slate 2",
  material_id: "m",
  printer: "Cormorant",
  layer_height_um: 50,
  verdict,
  reasons: [],
  price_per_l: null,
  cheapest: false,
  evidence_hash: "h1",
  judged: [judged("met")],
  ...changes,
});
const BRIEF = {
  id: "b",
  code: "A-001",
  version: 2,
  name: "Sensor clip",
  use: "300 flexes.",
  requirements: [{ property: "flexing.cycles", name: "Flexes to break", kind: "must", asked: "at least 600 cycles" }],
};
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/briefs/A-001": BRIEF });
});
const verdict = (held: object) => {
  api.answers["GET /api/qualify/A-001/S-001"] = held;
  return show(
    <Routes>
      <Route path="/qualify/:brief/:set" element={<VerdictPage />} />
      <Route path="*" element={null} />
    </Routes>,
    { at: "/qualify/A-001/S-001" },
  );
};
const candidates = (...held: object[]) => {
  api.answers["GET /api/qualify/A-001"] = { brief: BRIEF, candidates: held };
  return show(
    <Routes>
      <Route path="/qualify/:brief" element={<CandidatesPage />} />
    </Routes>,
    { at: "/qualify/A-001" },
  );
};

test("each requirement stands beside its evidence, with where it comes from and how it was made", async () => {
  verdict(
    candidate("S-001", "qualified", {
      judged: [judged("met", { left_out: [{ source: "T-001", why: "was made at another set" }] })],
    }),
  );
  const line = within(await screen.findByRole("listitem", { name: "Flexes to break" }));
  expect(line.getByText(/must be at least 600 cycles/)).toBeTruthy();
  expect(line.getByRole("link", { name: "T-003" }).getAttribute("href")).toBe("/test/T-003");
  expect(line.getByText(/10 °C, sea water/)).toBeTruthy();
  expect(line.getByText(/was made at another set/)).toBeTruthy();
  expect(screen.getByText("Every requirement is met by evidence that counts.")).toBeTruthy();
});

test("what is not shown is planned under the brief's own conditions", async () => {
  verdict(
    candidate("S-001", "conditional", {
      reasons: ["Flexes to break: not shown"],
      judged: [
        judged("not shown", { used: null, need: { words: "6 specimens would show it.", specimens: 6, stage: null } }),
      ],
    }),
  );
  expect((await screen.findByRole("link", { name: "Plan it" })).getAttribute("href")).toBe(
    "/test/new?method=flexing&brief=b&material=m&set=S-001&each=6&setup.temp_c=10",
  );
  expect(screen.getByText("Flexes to break: not shown")).toBeTruthy();
});

test("what coupons show is found at the set, what the shelf knows at the material", async () => {
  const ofSet = (need: object) =>
    judged("not shown", {
      used: null,
      demand: { ...judged("met").demand, property: "set.latitude", conditions: [] },
      need: { words: "Not known.", specimens: null, stage: null, ...need },
    });
  const { unmount } = verdict(candidate("S-001", "conditional", { judged: [ofSet({ stage: "refine" })] }));
  expect((await screen.findByRole("link", { name: "Open the set" })).getAttribute("href")).toBe("/sets/S-001");
  unmount();
  verdict(candidate("S-001", "conditional", { judged: [ofSet({})] }));
  expect((await screen.findByRole("link", { name: "Open the material" })).getAttribute("href")).toBe("/materials/m");
});

test("a signature is kept with the evidence that was on screen", async () => {
  api.answers["POST /api/qualifications"] = { code: "N-001" };
  const { user, place } = verdict(candidate("S-001", "qualified"));
  const sign = await screen.findByRole<HTMLButtonElement>("button", { name: "Sign as qualified" });
  expect(sign.disabled).toBe(true);
  await user.type(screen.getByLabelText("Signed for"), "Clips to 20 mm");
  await user.type(screen.getByLabelText("Your initials, as a signature"), "IM");
  await user.click(sign);
  await waitFor(() => expect(place()).toBe("/qualify/records/N-001"));
  expect(api.of("POST", "/api/qualifications")[0]!.body).toEqual({
    brief_id: "b",
    set_code: "S-001",
    evidence_hash: "h1",
    initials: "IM",
    scope: "Clips to 20 mm",
    seen: [{ property: "flexing.cycles", status: "met", source: "T-003" }],
  });
});

test("evidence that changed meanwhile is not signed on, and is fetched anew", async () => {
  api.answers["POST /api/qualifications"] = new Refusal(409, "T-004 came in since.");
  const { user } = verdict(candidate("S-001", "qualified"));
  await user.type(await screen.findByLabelText("Your initials, as a signature"), "IM");
  await user.click(screen.getByRole("button", { name: "Sign as qualified" }));
  expect(await screen.findByText("T-004 came in since.")).toBeTruthy();
  await waitFor(() => expect(api.of("GET", "/api/qualify/A-001/S-001").length).toBeGreaterThan(1));
});

test("a lapsed set is looked at and not signed", async () => {
  verdict(candidate("S-001", "lapsed", { reasons: ["Screen replaced."] }));
  expect(await screen.findByText("Screen replaced.")).toBeTruthy();
  expect(screen.queryByRole("form", { name: "Sign" })).toBeNull();
});

test("what may not be judged here is said where it is signed", async () => {
  verdict(candidate("S-001", "qualified"));
  expect((await screen.findByRole("form", { name: "Sign" })).textContent).toContain(
    "Not for biocompatibility, food contact, pressure vessels",
  );
});

test("sets stand side by side, each with its verdict, its price and what it fails on", async () => {
  candidates(
    candidate("S-001", "qualified", { price_per_l: 41.5, cheapest: true }),
    candidate("S-002", "not qualified", { reasons: ["Flexes to break: not met"], judged: [judged("not met")] }),
  );
  const heads = (await screen.findAllByRole("columnheader")).map((one) => one.textContent.replace(/\s/g, " "));
  expect(heads[1]).toContain("42 per litre, the cheapest that qualifies");
  expect(heads[2]).toContain("no price");
  expect(
    within(screen.getByRole("row", { name: /^Fails on/ }))
      .getAllByRole("cell")
      .map((one) => one.textContent),
  ).toEqual(["nothing", "Flexes to break: not met"]);
});

test("without an issued set there is nothing to hold against the brief, and a way to begin", async () => {
  candidates();
  expect((await screen.findByRole("link", { name: "New calibration" })).getAttribute("href")).toBe("/calibrate/new");
});
