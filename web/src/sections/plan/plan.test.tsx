import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show, wide } from "../../testingTools";
import { atWork, lanesOf, type Plan, shortName, stacked, type Step, stretchOf, toFive } from "./model";
import PlanPage from "./PlanPage";

const NOW = "2026-01-21T09:00:00Z";
const step = (changes: Partial<Step> = {}): Step => ({
  key: "J-001 print",
  kind: "print",
  name: "107K, C-001",
  job: "C-001",
  also: [],
  recorded: true,
  link: "/calibrate/c",
  resource: "p",
  minutes: 50,
  person_min: 5,
  attended: false,
  resin: "Slate 2",
  material_id: "m",
  bottle_id: null,
  ml: 1.2,
  due_at: null,
  note: "",
  starts_at: "2026-01-21T09:30:00Z",
  ends_at: "2026-01-21T10:20:00Z",
  change_at: null,
  changed_at: null,
  late_min: 0,
  state: "planned",
  pinned: false,
  night: false,
  ...changes,
});
const wash = step({
  key: "J-001 wash",
  kind: "wash",
  recorded: false,
  name: "wash 107K, C-001",
  resource: "wash solvent",
  minutes: 8,
  person_min: 8,
  starts_at: "2026-01-21T10:20:00Z",
  ends_at: "2026-01-21T10:28:00Z",
});
const read = step({
  key: "J-001 read",
  kind: "read",
  name: "read 107K, C-001",
  link: "/coupons/107K",
  resource: null,
  minutes: 7,
  person_min: 7,
  starts_at: "2026-01-21T11:00:00Z",
  ends_at: "2026-01-21T11:07:00Z",
});
const plan = (changes: Partial<Plan> = {}): Plan => ({
  now: NOW,
  time_zone: "UTC",
  made_at: "2026-01-21T08:59:00Z",
  old: [],
  lanes: [
    { key: "p", name: "Cormorant", detail: "Slate 2", places: 1 },
    { key: "wash solvent", name: "Wash", detail: "solvent", places: 1 },
  ],
  shifts: [["2026-01-21T09:00:00Z", "2026-01-21T12:00:00Z"]],
  steps: [step(), wash, read],
  not_planned: [],
  waiting: [],
  what_now: step(),
  then: null,
  jobs: [
    {
      job: "C-001",
      link: "/calibrate/c",
      done_at: "2026-01-21T11:07:00Z",
      due_at: null,
      late_min: 0,
      ml: 1.2,
      minutes: 97,
      person_min: 20,
    },
  ],
  compared: {
    finish_at: "2026-01-21T11:07:00Z",
    by_due_date_finish_at: "2026-01-21T12:00:00Z",
    lateness_min: 0,
    by_due_date_lateness_min: 0,
    interruptions: 2,
    changes: 0,
    gap_min: 6,
    status: "best of the time",
  },
  budget: {
    resins: [
      {
        material_id: "m",
        material: "Slate 2",
        left_ml: 700,
        needs_ml: 1.2,
        bottles: ["B-001"],
        runs_out_at_key: null,
        open_next: null,
      },
    ],
    baths: [{ name: "Dirty bath", loads: 60, planned: 1, most_loads: 60 }],
    printers: [{ printer: "Cormorant", minutes: 50, prints: 1, film_prints: 40 }],
    gloves: 2,
    person_min: 20,
    person_there_min: 120,
    cost: 0.05,
    currency: "£",
  },
  down: [],
  ...changes,
});

let api: ReturnType<typeof fakeApi>;
const made = {
  id: "j",
  kind: "plan",
  state: "done",
  progress: 1,
  message: "",
  result: {},
  fields: {},
  created_at: NOW,
  ended_at: NOW,
};
beforeEach(() => {
  wide();
  api = fakeApi({
    "GET /api/plan": plan(),
    "POST /api/plan/make": { ...made, state: "queued" },
    "GET /api/jobs/j": made,
    "GET /api/plan/worth-doing": { items: [] },
    "GET /api/printers": { items: [{ id: "p", name: "Cormorant" }] },
  });
});
const text = () => document.body.textContent.replace(/\s/g, " ");
const bar = async (lane: string) => within(await screen.findByRole("group", { name: lane })).getByRole("button");
const now = () => within(screen.getByRole("complementary", { name: "Now" }));

test("steps that run at once stand under each other, and work by hand has a lane of its own", () => {
  const beside = step({ key: "other", starts_at: "2026-01-21T10:00:00Z" });
  const { line, lines } = stacked([step(), beside, step({ key: "later", starts_at: "2026-01-21T10:20:00Z" })]);
  expect([line.get("J-001 print"), line.get("other"), line.get("later"), lines]).toEqual([0, 1, 0, 2]);
  expect(lanesOf(plan()).map((lane) => [lane.name, lane.steps.length])).toEqual([
    ["Cormorant", 1],
    ["Wash", 1],
    ["Bench", 1],
  ]);
  expect(shortName(wash)).toBe("107K, C-001");
});

test("a person is at work at the beginning of a step and while a vat is changed, and not for what runs", () => {
  const changed = step({ change_at: "2026-01-21T09:00:00Z", changed_at: "2026-01-21T09:25:00Z" });
  const spells = atWork(plan({ steps: [changed, step({ key: "runs", state: "running" })] }));
  expect(spells.map((spell) => (spell.to - spell.from) / 60_000)).toEqual([5, 25]);
});

test("a day is drawn from its first hour to its last, a week in whole days", () => {
  const [from, to] = stretchOf(plan(), new Date(NOW), 1);
  expect((to - from) / 3_600_000).toBe(3);
  const [monday, sunday] = stretchOf(plan(), new Date(NOW), 7);
  expect((sunday - monday) / 86_400_000).toBe(7);
  expect(toFive(Date.parse("2026-01-21T09:33:10Z"))).toBe(Date.parse("2026-01-21T09:35:00Z"));
});

test("without a plan it says what waits and makes one", async () => {
  api.answers["GET /api/plan"] = plan({
    made_at: null,
    steps: [],
    waiting: [step()],
    what_now: null,
    compared: null,
    budget: null,
  });
  const { user } = show(<PlanPage />);
  await user.click(await screen.findByRole("button", { name: "Plan the day" }));
  await waitFor(() => expect(api.of("POST", "/api/plan/make")[0]?.body).toEqual({ seconds: 6 }));
});

test("nothing to do is said, and nothing is offered", async () => {
  api.answers["GET /api/plan"] = plan({ made_at: null, steps: [], what_now: null, compared: null, budget: null });
  show(<PlanPage />);
  expect(await screen.findByText(/Nothing waits\./)).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Plan the day" })).toBeNull();
});

test("what comes first is begun, is undone, and the rest is planned anew", async () => {
  api.answers["POST /api/plan/ticks"] = { id: "t", plan: plan() };
  api.answers["POST /api/plan/ticks/t/withdraw"] = plan();
  const { user } = show(<PlanPage />);
  await user.click(await screen.findByRole("button", { name: "Begun" }));
  await waitFor(() => expect(api.of("POST", "/api/plan/ticks")[0]?.body).toEqual({ task: "J-001 print", done: false }));
  await waitFor(() => expect(api.of("POST", "/api/plan/make")[0]?.body).toEqual({ seconds: 1.2 }));
  await user.click(screen.getByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/plan/ticks/t/withdraw")).toHaveLength(1));
});

test("a step of another person stays theirs", async () => {
  api.answers["POST /api/plan/ticks"] = new Refusal(409, "RB began it at 09:12 UTC.");
  const { user } = show(<PlanPage />);
  await user.click(await screen.findByRole("button", { name: "Begun" }));
  expect(await screen.findByText("RB began it at 09:12 UTC.")).toBeTruthy();
});

test("what is chosen is said in words: a reading is opened, a running print is marked", async () => {
  const runs = step({ state: "running" });
  api.answers["GET /api/plan"] = plan({ steps: [runs, wash, read] });
  const { user } = show(<PlanPage />);
  await user.click(await bar("Bench"));
  expect(now().getByRole("link", { name: "Read" }).getAttribute("href")).toBe("/coupons/107K");
  const running = await bar("Cormorant");
  expect(running.getAttribute("aria-label")).toContain("running");
  await user.click(running);
  expect(now().getByRole("link", { name: "Mark as printed" }).getAttribute("href")).toBe("/calibrate/c");
});

test("an arrow key moves a step by five minutes and pins it", async () => {
  api.answers["PUT /api/plan/pins"] = plan();
  const { user } = show(<PlanPage />);
  (await bar("Cormorant")).focus();
  await user.keyboard("{ArrowRight}");
  await waitFor(() =>
    expect(api.of("PUT", "/api/plan/pins")[0]?.body).toEqual({
      task: "J-001 print",
      starts_at: "2026-01-21T09:35:00.000Z",
    }),
  );
  await waitFor(() => expect(api.of("POST", "/api/plan/make")).toHaveLength(1));
});

test("a time that cannot be is refused with the next one", async () => {
  api.answers["PUT /api/plan/pins"] = new Refusal(422, "It cannot run then. From Wed 12:30 it can.", {
    starts_at: "It cannot run then. From Wed 12:30 it can.",
  });
  const { user } = show(<PlanPage />);
  (await bar("Cormorant")).focus();
  await user.keyboard("{ArrowLeft}");
  expect(await screen.findByText(/From Wed 12:30 it can/)).toBeTruthy();
});

test("whether it is enough, when jobs are through and how good the plan is", async () => {
  const { user } = show(<PlanPage />);
  await screen.findByRole("heading", { name: "Will it be enough?" });
  expect(text()).toContain("700 → 699 ml");
  expect(text()).toContain("film: 40 prints, 41 with these");
  expect(text()).toContain("spent on the way: fill it anew");
  expect(text()).toContain("needs 1.2 ml, 1 h 37, 20 min of you");
  expect(text()).toContain("At most 6 min from the best.");
  api.answers["PUT /api/plan/due"] = plan();
  await user.click(screen.getByRole("button", { name: "When C-001 is needed" }));
  await user.type(screen.getByLabelText("Needed by"), "2026-01-21T12:00");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(api.of("PUT", "/api/plan/due")[0]?.body).toMatchObject({ job: "C-001" }));
});

test("an old plan is made anew by itself, once for each reason", async () => {
  api.answers["GET /api/plan"] = plan({ old: ["Order Slate 2 came up since"] });
  show(<PlanPage />);
  await waitFor(() => expect(api.of("POST", "/api/plan/make")).toHaveLength(1));
  await waitFor(() => expect(api.of("GET", "/api/plan").length).toBeGreaterThan(1));
  expect(api.of("POST", "/api/plan/make")).toHaveLength(1);
});

test("what does not fit is named with its reason", async () => {
  api.answers["GET /api/plan"] = plan({
    not_planned: [{ key: "x", name: "break 200 bars", why: "it takes 540 min", instead: "lengthen the hours" }],
  });
  show(<PlanPage />);
  expect(await screen.findByText("break 200 bars")).toBeTruthy();
  expect(text()).toContain("it takes 540 min.");
});

test("a task of one's own is added with its time, and removed with undo", async () => {
  api.answers["POST /api/plan/own-tasks"] = { id: "o", name: "Order Slate 2" };
  api.answers["POST /api/plan/own-tasks/o/withdraw"] = { id: "o" };
  const { user } = show(<PlanPage />);
  await user.click(await screen.findByRole("button", { name: "Add a task" }));
  await user.type(screen.getByLabelText("What is to be done"), "Order Slate 2");
  await user.click(screen.getByRole("button", { name: "Add it" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/plan/own-tasks")[0]?.body).toMatchObject({
      name: "Order Slate 2",
      minutes: 15,
      due_at: null,
    }),
  );
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/plan/own-tasks/o/withdraw")).toHaveLength(1));
});

test("a task of one's own is changed, and removed with a way back", async () => {
  const own = step({
    key: "O-001 own",
    kind: "own",
    name: "Order Slate 2",
    job: "O-001",
    resource: null,
    link: null,
    recorded: false,
  });
  api.answers["GET /api/plan"] = plan({ steps: [own], what_now: own });
  const stored = { id: "o", code: "O-001", name: "Order Slate 2", minutes: 15, due_at: null, note: "", version: 2 };
  api.answers["GET /api/plan/own-tasks"] = { items: [stored] };
  api.answers["PUT /api/plan/own-tasks/o"] = { ...stored, name: "Order two" };
  api.answers["POST /api/plan/own-tasks/o/withdraw"] = stored;
  api.answers["POST /api/plan/own-tasks/o/restore"] = stored;
  const { user } = show(<PlanPage />);
  await user.click(await screen.findByRole("button", { name: "Change or remove…" }));
  await user.clear(await screen.findByLabelText("What is to be done"));
  await user.type(screen.getByLabelText("What is to be done"), "Order two");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() =>
    expect(api.of("PUT", "/api/plan/own-tasks/o")[0]?.body).toMatchObject({ name: "Order two", version: 2 }),
  );
  await user.click(await screen.findByRole("button", { name: "Change or remove…" }));
  await user.click(await screen.findByRole("button", { name: "Remove" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/plan/own-tasks/o/restore")).toHaveLength(1));
});

async function more(user: ReturnType<typeof show>["user"], item: string) {
  await user.click(await screen.findByRole("button", { name: "More" }));
  await user.click(screen.getByRole("button", { name: item }));
}

test("a printer is said to be down, and to be back", async () => {
  const down = {
    id: "d",
    printer_id: "q",
    printer: "Gannet",
    from_at: NOW,
    until_at: null,
    reason: "The screen is dark",
  };
  api.answers["GET /api/plan"] = plan({ down: [down] });
  api.answers["POST /api/printers/p/down"] = plan();
  api.answers["POST /api/printers/q/back"] = plan();
  const { user } = show(<PlanPage />);
  await more(user, "A printer is down or back…");
  await user.click(screen.getByRole("button", { name: "It is back" }));
  await waitFor(() => expect(api.of("POST", "/api/printers/q/back")).toHaveLength(1));
  await screen.findByRole("option", { name: "Cormorant" });
  await user.selectOptions(screen.getByLabelText("Printer"), "p");
  await user.type(screen.getByLabelText("Why"), "Film torn");
  await user.click(screen.getByRole("button", { name: "It is down" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/printers/p/down")[0]?.body).toEqual({ reason: "Film torn", until_at: null }),
  );
});

test("an address of the calendar is shown once and revoked", async () => {
  api.answers["GET /api/plan/feeds"] = { items: [{ id: "f", created_at: NOW, initials: "IM" }] };
  api.answers["POST /api/plan/feeds"] = { id: "g", address: "http://skerry/api/plan/feeds/secret.ics" };
  api.answers["POST /api/plan/feeds/f/revoke"] = { items: [] };
  const { user } = show(<PlanPage />);
  await more(user, "Calendar…");
  await user.click(screen.getByRole("button", { name: "Open an address to read it by" }));
  expect(await screen.findByText("http://skerry/api/plan/feeds/secret.ics")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Revoke" }));
  await waitFor(() => expect(api.of("POST", "/api/plan/feeds/f/revoke")).toHaveLength(1));
});

test("hours, breaks and places are set; what cannot be read stands at its day", async () => {
  const day = { hours: { begins: "07:30", ends: "16:00" }, breaks: [{ begins: "12:00", ends: "12:30" }] };
  const settings = {
    hours: { week: [day, day, day, day, day, null, null], days_off: [], time_zone: "UTC" },
    handling: { start_min: 5, wash_min: 4, cure_min: 2, change_min: 25, coupon_min: 5, specimen_min: 4 },
    lamp_places: 4,
    dry_places: 8,
    gloves_per_print: 2,
    version: 1,
  };
  api.answers["GET /api/plan/settings"] = settings;
  api.answers["PUT /api/plan/settings"] = new Refusal(422, "No.", { "hours.week.0.hours.begins": "give a time" });
  const { user } = show(<PlanPage />);
  await more(user, "Working hours and places…");
  const monday = within(await screen.findByRole("group", { name: "Monday" }));
  await user.clear(monday.getByLabelText("Breaks"));
  await user.type(monday.getByLabelText("Breaks"), "12:00–12:45, 15:00-15:10");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await monday.findByText("give a time")).toBeTruthy();
  const sent = api.of("PUT", "/api/plan/settings")[0]?.body as typeof settings;
  expect(sent.hours.week[0]?.breaks).toEqual([
    { begins: "12:00", ends: "12:45" },
    { begins: "15:00", ends: "15:10" },
  ]);
  expect(sent.hours.week[6]).toBeNull();
  expect(sent.version).toBe(1);
});

test("planned and real minutes stand beside each other", async () => {
  api.answers["GET /api/plan/history"] = { items: [{ kind: "wash", count: 6, planned_min: 8, took_min: 11.4 }] };
  const { user } = show(<PlanPage />);
  await more(user, "Planned and real times…");
  expect(await screen.findByRole("row", { name: "Wash 6 8 11" })).toBeTruthy();
});

test("what is worth doing stands below with what it takes", async () => {
  const coupon = {
    kind: "coupon",
    words: "flat coupon at 2.9 s, C-003",
    why: "it would settle the lower end",
    link: "/calibrate/c",
    ml: 1.2,
    minutes: 8,
  };
  api.answers["GET /api/plan/worth-doing"] = { items: [coupon] };
  show(<PlanPage />);
  const panel = within(await screen.findByRole("region", { name: /^Worth doing/ }));
  expect(panel.getByRole("link", { name: coupon.words }).getAttribute("href")).toBe("/calibrate/c");
  expect(text()).toContain("8 min, 1.2 ml");
});

test("the list reads as the day does", async () => {
  show(<PlanPage />, { at: "/plan?show=list" });
  const list = within(await screen.findByRole("region", { name: "Steps by time" }));
  expect(list.getAllByRole("listitem").map((row) => row.textContent)).toHaveLength(3);
  expect(screen.queryByRole("region", { name: "The day" })).toBeNull();
});

test("prints of two jobs on one plate are marked as printed one by one", async () => {
  const shared = step({
    key: "J-001+J-002 print",
    name: "print bend and pull",
    job: "T-001",
    link: "/test/T-001",
    also: [{ job: "T-002", link: "/test/T-002" }],
    state: "running",
    note: "On one plate: J-001 and J-002.",
  });
  api.answers["GET /api/plan"] = plan({ steps: [shared], what_now: null, then: null });
  const { user } = show(<PlanPage />);
  await user.click(await bar("Cormorant"));
  const links = screen.getAllByRole("link", { name: /Mark as printed/ });
  expect(links.map((link) => [link.textContent, link.getAttribute("href")])).toEqual([
    ["Mark as printed: T-001", "/test/T-001"],
    ["Mark as printed: T-002", "/test/T-002"],
  ]);
  expect(text()).toContain("On one plate: J-001 and J-002.");
});
