import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import { AskWhy } from "./AskWhy";
import WhyListPage from "./WhyListPage";
import WhyPage from "./WhyPage";

let api: ReturnType<typeof fakeApi>;
const cause = (key: string, name: string, probability: number, changes: object = {}) => ({
  key,
  name,
  probability,
  for: [],
  against: [],
  remedy: { key: "warm-start", name: "Plan a warm start", how: "Warm the chamber." },
  ...changes,
});
const check = {
  key: "read-resin",
  name: "Read the temperature in the resin",
  how: "A probe in the vat.",
  minutes: 1,
  ml: 0,
  information_bits: 0.4,
  worth: 0.2,
  tells: ["Cold resin", "Plate out of level or zero"],
  answers: [
    { key: "cold", name: "under 18 °C", probability: 0.6, leader: "Cold resin", leader_probability: 0.91, first: 0.91 },
    { key: "right", name: "18 to 30 °C", probability: 0.4, leader: "Plate", leader_probability: 0.5, first: 0.2 },
  ],
};
const trace = (changes: object = {}) => ({
  id: "t",
  code: "Y-001",
  version: 2,
  opened_at: "2026-01-21T08:00:00Z",
  print: {
    code: "J-133",
    printer_id: "g",
    printer: "Gannet",
    material: "Rinsewell",
    set_code: "S-003",
    printed_at: "2026-01-18T05:51:00Z",
  },
  symptoms: ["nothing-on-plate"],
  record: [
    { key: "below_band_c", value: 12, words: "9 °C at the start, S-003 was made at 21 to 27 °C", link: "/sets/S-003" },
  ],
  answers: [],
  result: {
    causes: [
      cause("cold-resin", "Cold resin", 0.62, {
        for: [
          { key: "nothing-on-plate", words: "nothing on the plate", weight: 9 },
          { key: "below_band_c", words: "12 °C below its band", weight: 7 },
        ],
        against: [{ key: "level_prints", words: "24 whole prints since the plate was levelled", weight: 0.5 }],
      }),
      ...["a", "b", "c", "d", "e"].map((key) => cause(key, `Cause ${key}`, 0.06)),
      cause("other", "Something else", 0.08, {
        remedy: { key: "none", name: "Note what it was", how: "It is counted." },
      }),
    ],
    next_checks: [check],
    warnings: [],
  },
  remedies: {
    "warm-start": { words: "Plan a warm start", link: "/climate/warm-start?printer=g&set=S-003" },
    none: { words: "", link: null },
  },
  confirmed: [{ key: "cold-resin", name: "Cold resin", count: 7 }],
  found: null,
  notices: [],
  ...changes,
});
const page = () =>
  show(
    <Routes>
      <Route path="/log/why/:code" element={<WhyPage />} />
    </Routes>,
    { at: "/log/why/Y-001" },
  );

beforeEach(() => {
  api = fakeApi({
    "GET /api/traces/Y-001": trace(),
    "GET /api/print-symptoms": {
      items: [
        { key: "nothing-on-plate", name: "Nothing on the plate", side: "other", leaves_pieces: true },
        { key: "tacky", name: "Tacky", side: "other", leaves_pieces: false },
      ],
    },
  });
});

test("causes stand by their chance, each reason in the record's words with its place", async () => {
  page();
  const lead = await screen.findByRole("listitem", { name: /^Cold resin, 62/ });
  expect(
    within(lead)
      .getByRole("link", { name: /9 °C at the start/ })
      .getAttribute("href"),
  ).toBe("/sets/S-003");
  expect(within(lead).getByRole("list", { name: "Against it" }).textContent).toMatch(/24 whole prints/);
  // Something else is always in sight; the rest is asked for.
  expect(screen.getByRole("listitem", { name: /^Something else/ })).toBeTruthy();
  expect(screen.queryByRole("listitem", { name: /^Cause e/ })).toBeNull();
  expect(screen.getByText(/1.cause.found|7.causes found here so far: cold resin.7/)).toBeTruthy();
});

test("all causes are shown when they are asked for", async () => {
  const { user } = page();
  await user.click(await screen.findByRole("button", { name: "All 7 causes" }));
  expect(screen.getByRole("listitem", { name: /^Cause e/ })).toBeTruthy();
});

test("a check says its cost, what it tells apart and where it may lead; an answer is sent", async () => {
  api.answers["POST /api/traces/t/answers"] = trace();
  const { user } = page();
  const best = await screen.findByRole("article", { name: "Read the temperature in the resin" });
  expect(best.textContent).toMatch(
    /1.min, 0.ml · tells cold resin from plate out of level or zero: cold resin 62.% → 91.% or 20.%/,
  );
  await user.click(within(best).getByRole("button", { name: "under 18 °C" }));
  await waitFor(() => expect(api.of("POST", "/api/traces/t/answers")).toHaveLength(1));
  expect(api.of("POST", "/api/traces/t/answers")[0]!.body).toEqual({ check: "read-resin", answer: "cold" });
});

test("an answer that a newer one superseded says so, and is taken back", async () => {
  const answer = (id: string, counts: boolean, words: string) => ({
    id,
    check: "read-resin",
    name: "Read the temperature in the resin",
    answer: "cold",
    words,
    counts,
    initials: "RB",
  });
  api.answers["GET /api/traces/Y-001"] = trace({
    answers: [answer("1", false, "under 18 °C"), answer("2", true, "18 to 30 °C")],
    notices: [{ code: "answered-twice", message: "Answered twice differently: the newer answer counts." }],
  });
  api.answers["POST /api/traces/t/answers/1/withdraw"] = trace();
  const { user } = page();
  expect(await screen.findByText(/, superseded/)).toBeTruthy();
  expect(screen.getByText(/the newer answer counts/).className).toMatch("caution");
  await user.click(screen.getAllByRole("button", { name: "Withdraw" })[0]!);
  await waitFor(() => expect(api.of("POST", "/api/traces/t/answers/1/withdraw")).toHaveLength(1));
});

test("signs are chosen anew with the version that was looked at; what somebody else changed is told", async () => {
  api.answers["PUT /api/traces/t/symptoms"] = new Refusal(409, "RB changed Y-001 meanwhile.");
  const { user } = page();
  await user.click(await screen.findByRole("button", { name: "Tacky" }));
  expect(await screen.findByText("RB changed Y-001 meanwhile.")).toBeTruthy();
  expect(api.of("PUT", "/api/traces/t/symptoms")[0]!.body).toEqual({
    version: 2,
    symptoms: ["nothing-on-plate", "tacky"],
  });
});

test("the remedy of the leading cause begins on its page", async () => {
  page();
  const remedy = await screen.findByRole("region", { name: "Remedy" });
  expect(within(remedy).getByRole("heading").textContent).toBe("If it is: cold resin");
  expect(within(remedy).getByRole("link", { name: "Plan a warm start" }).getAttribute("href")).toBe(
    "/climate/warm-start?printer=g&set=S-003",
  );
});

test("a cause is kept in one tap; none of them is written down", async () => {
  api.answers["POST /api/traces/t/cause"] = trace();
  const { user } = page();
  const lead = await screen.findByRole("listitem", { name: /^Cold resin/ });
  await user.click(within(lead).getByRole("button", { name: "It was this" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/traces/t/cause")[0]!.body).toEqual({ cause: "cold-resin", note: "" }),
  );
  const other = screen.getByRole("listitem", { name: /^Something else/ });
  await user.click(within(other).getByRole("button", { name: "It was this" }));
  await user.type(screen.getByLabelText("What it was"), "A crab.");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/traces/t/cause")[1]!.body).toEqual({ cause: "other", note: "A crab." }),
  );
});

test("what was found says by whom, leads to the repeat and is taken back", async () => {
  api.answers["GET /api/traces/Y-001"] = trace({
    found: { key: "cold-resin", name: "Cold resin", note: "", confirmed_at: "2026-01-21T09:00:00Z", initials: "RB" },
  });
  api.answers["POST /api/traces/t/cause/withdraw"] = trace();
  const { user } = page();
  expect(await screen.findByRole("heading", { name: "It was: Cold resin" })).toBeTruthy();
  expect(screen.queryByRole("button", { name: "It was this" })).toBeNull();
  expect(screen.getByRole("link", { name: /print it again/ }).getAttribute("href")).toBe("/log/new?from=J-133");
  await user.click(screen.getByRole("button", { name: "Withdraw it" }));
  await waitFor(() => expect(api.of("POST", "/api/traces/t/cause/withdraw")).toHaveLength(1));
});

test("a failed print leads to its trace; what cannot be traced says why", async () => {
  api.answers["POST /api/traces"] = trace();
  const { user, place } = show(<AskWhy code="J-133" small />);
  await user.click(screen.getByRole("button", { name: "Why did J-133 fail?" }));
  await waitFor(() => expect(place()).toBe("/log/why/Y-001"));
  expect(api.of("POST", "/api/traces")[0]!.body).toEqual({ print_code: "J-133", symptoms: null });
  api.answers["POST /api/traces"] = new Refusal(409, "J-133 did not fail.");
  await user.click(screen.getByRole("button", { name: "Why did J-133 fail?" }));
  expect(await screen.findByText("J-133 did not fail.")).toBeTruthy();
});

test("traces are listed, and one begins from nothing", async () => {
  api.answers["GET /api/traces"] = {
    items: [
      {
        code: "Y-001",
        print_code: null,
        material: null,
        printer: null,
        opened_at: "2026-01-21T08:00:00Z",
        symptoms: [],
        cause_key: null,
        cause: null,
      },
    ],
  };
  api.answers["POST /api/traces"] = trace();
  const { user, place } = show(<WhyListPage />, { at: "/log/why" });
  expect((await screen.findByRole("row", { name: /Y-001/ })).textContent).toMatch(/none in the log.*open/);
  await user.click(screen.getByRole("button", { name: "Ask why something failed" }));
  await waitFor(() => expect(place()).toBe("/log/why/Y-001"));
  expect(api.of("POST", "/api/traces")[0]!.body).toEqual({ print_code: null, symptoms: [] });
});

test("without a trace it says what one is for", async () => {
  api.answers["GET /api/traces"] = { items: [] };
  show(<WhyListPage />, { at: "/log/why" });
  expect(await screen.findByText(/weighed against its causes/)).toBeTruthy();
});
