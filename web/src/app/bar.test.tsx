import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../testingTools";
import { RecordsBanner } from "./RecordsBanner";
import { RecordsCheck } from "./RecordsCheck";
import { RoomNow } from "./RoomNow";
import { TechnicianMenu } from "./people/TechnicianMenu";
import { Timers } from "./Timers";

vi.mock("./chime", () => ({ chime: vi.fn() }));

const timer = (changes: object = {}) => ({
  id: "t",
  name: "Wash 104R",
  seconds: 120,
  started_at: "2026-01-21T09:00:00Z",
  due_at: "2026-01-21T09:02:00Z",
  left_s: 75,
  place: "/coupons/104R",
  ended_at: null,
  ...changes,
});
const timers = (...items: object[]) => ({ now: "2026-01-21T09:00:45Z", items });

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/timers": timers(timer(), timer({ id: "u", name: "Stir M-001", left_s: 300, place: null })),
    "GET /api/technicians": {
      items: [
        { id: "1", initials: "IM", retired_at: null },
        { id: "2", initials: "RB", retired_at: null },
        { id: "3", initials: "TO", retired_at: "2025-01-01" },
      ],
    },
  });
});

test("the next timer shows in the bar, with how many run behind it", async () => {
  show(<Timers />);
  const toggle = await screen.findByRole("button", { name: /^Timers: Wash 104R in 1:1\d, 2 run$/ });
  expect(toggle.textContent).toContain("+1");
});

test("a timer leads to its page, and is taken off", async () => {
  api.answers["POST /api/timers/t/end"] = timer({ ended_at: "2026-01-21T09:01:00Z" });
  const { user } = show(<Timers />);
  await user.click(await screen.findByRole("button", { name: /^Timers/ }));
  expect(screen.getByRole("link", { name: "Wash 104R" }).getAttribute("href")).toBe("/coupons/104R");
  api.answers["GET /api/timers"] = timers(timer({ id: "u", name: "Stir M-001", left_s: 300 }));
  await user.click(screen.getByRole("button", { name: "Take Wash 104R off" }));
  await waitFor(() => expect(api.of("POST", "/api/timers/t/end")).toHaveLength(1));
  expect(await screen.findByRole("button", { name: /^Timers: Stir M-001/ })).toBeTruthy();
});

test("what is due says so", async () => {
  api.answers["GET /api/timers"] = timers(timer({ left_s: -3 }));
  show(<Timers />);
  expect((await screen.findByRole("button", { name: "Timers: Wash 104R is due" })).textContent).toContain("due");
});

test("a timer of one's own needs a name", async () => {
  api.answers["POST /api/timers"] = new Refusal(422, "No.", { name: "too short" });
  const { user } = show(<Timers />);
  await user.click(await screen.findByRole("button", { name: /^Timers/ }));
  await user.click(screen.getByRole("button", { name: "New timer…" }));
  const dialog = within(screen.getByRole("dialog", { name: "New timer" }));
  await user.click(dialog.getByRole("button", { name: "Start" }));
  expect(await dialog.findByText("Give it a name of up to 80 characters.")).toBeTruthy();
  expect(api.of("POST", "/api/timers")[0]!.body).toEqual({ name: "", seconds: 300, place: null });
});

test("the room's temperature leads to the log; a silent probe is no temperature", async () => {
  api.answers["GET /api/room"] = {
    room: { temp_c: 6.84, place: "room", probe: "Shed wall", probe_id: "p", at: "" },
    stale: false,
  };
  const { unmount } = show(<RoomNow />);
  const link = await screen.findByRole("link", { name: "Room 6.8\u2009°C, by Shed wall" });
  expect(link.getAttribute("href")).toBe("/climate");
  unmount();
  api.answers["GET /api/room"] = { room: null, stale: true };
  show(<RoomNow />);
  expect((await screen.findByRole("link", { name: "The room's probe is silent" })).textContent).toContain("–");
});

test("a room without a probe takes no place in the bar", async () => {
  api.answers["GET /api/room"] = { room: null, stale: false };
  show(<RoomNow />);
  await waitFor(() => expect(api.of("GET", "/api/room")).toHaveLength(1));
  expect(screen.queryByRole("link")).toBeNull();
});

test("who works is chosen from who is here, and sent with everything after it", async () => {
  const { user } = show(<TechnicianMenu />, { who: null });
  await user.click(screen.getByRole("button", { name: /Who is working/ }));
  expect(await screen.findByRole("button", { name: "RB" })).toBeTruthy();
  expect(screen.queryByRole("button", { name: "TO" })).toBeNull();
  await user.click(screen.getByRole("button", { name: "RB" }));
  expect(screen.getByRole("button", { name: "Working as RB" })).toBeTruthy();
  expect(localStorage.getItem("setback.technician")).toBe("RB");
});

test("new initials are added and worked as; what is wrong with them is said in plain words", async () => {
  api.answers["POST /api/technicians"] = ({ body }: { body: { initials: string } }) =>
    body.initials === "KL"
      ? { id: "9", initials: "KL", retired_at: null }
      : new Refusal(422, "No.", { initials: "String should match pattern" });
  const { user } = show(<TechnicianMenu />);
  await user.click(screen.getByRole("button", { name: "Working as IM" }));
  await user.click(screen.getByRole("button", { name: "Add initials…" }));
  const field = screen.getByLabelText("Initials, one to four letters");
  await user.type(field, "12{Enter}");
  expect(await screen.findByText("Give one to four letters.")).toBeTruthy();
  await user.clear(field);
  await user.type(field, "KL{Enter}");
  expect(await screen.findByRole("button", { name: "Working as KL" })).toBeTruthy();
  expect(screen.queryByRole("dialog")).toBeNull();
});

test("the safelight is a choice that is kept", async () => {
  const { user } = show(<TechnicianMenu />);
  await user.click(screen.getByRole("button", { name: "Working as IM" }));
  await user.click(screen.getByRole("button", { name: "Safelight" }));
  expect(document.documentElement.dataset.bsTheme).toBe("safelight");
  expect(localStorage.getItem("setback.theme")).toBe("safelight");
});

test.each([
  [{ intact: true, words: "12 records are intact." }, null],
  [{ intact: false, words: "S-003 was changed." }, "Do not rely on it"],
])("the walk over signed records ends in plain words", async (result, warning) => {
  const job = { id: "j", kind: "verify", state: "done", progress: 1, message: "", result };
  Object.assign(api.answers, { "POST /api/jobs": job, "GET /api/jobs/j": job });
  show(<RecordsCheck onClose={() => undefined} />);
  expect(await screen.findByText(new RegExp(result.words))).toBeTruthy();
  expect(screen.queryByRole("alert")?.textContent.includes(warning!) ?? null).toBe(warning && true);
});

test("records that were changed are named over every page, and nothing is said while all is well", async () => {
  const standing = { checked_at: "2026-03-01T08:15:00Z", intact: true, words: "", faults: [] as string[], notes: [] };
  api.answers["GET /api/records"] = standing;
  const { unmount } = show(<RecordsBanner />);
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(screen.queryByRole("alert")).toBeNull();
  unmount();
  const faults = ["Set S-002 was changed outside Setback.", "b", "c", "d", "e", "f"];
  api.answers["GET /api/records"] = { ...standing, intact: false, faults };
  show(<RecordsBanner />);
  const alert = await screen.findByRole("alert");
  expect(alert.textContent).toContain("Set S-002 was changed outside Setback.");
  expect(alert.textContent).toContain("and more");
  expect(alert.textContent).toContain("Checked 2026-03-01 08:15 UTC.");
});

test("a timer that is due shows as a notification once that was allowed, and only once", async () => {
  const shown: string[] = [];
  class Allowed {
    static permission = "default";
    static requestPermission = () => Promise.resolve((Allowed.permission = "granted"));
    constructor(title: string) {
      shown.push(title);
    }
  }
  vi.stubGlobal("Notification", Allowed);
  api.answers["GET /api/timers"] = timers(timer({ left_s: 1 }));
  const { user } = show(<Timers />);
  await user.click(await screen.findByRole("button", { name: /^Timers/ }));
  await user.click(screen.getByText("Notify me when one is due"));
  await waitFor(() => expect(screen.queryByText("Notify me when one is due")).toBeNull());
  await waitFor(() => expect(shown).toEqual(["Due: Wash 104R"]));
});
