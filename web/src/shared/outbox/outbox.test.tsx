import "fake-indexeddb/auto";
import { screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Offline } from "../../app/Offline";
import { WhoIsWorking } from "../../app/people/WhoIsWorking";
import WaitingPage from "../../sections/lab/WaitingPage";
import { Refusal, fakeApi, show } from "../../testingTools";
import { body, POST, upload } from "../api/client";
import { useGet } from "../api/useGet";
import { useSend } from "../api/useSend";
import { noteReached } from "./connection";
import { keepCopies } from "./copies";
import { device } from "./device";
import { sendAll, useOutbox, waitFor as waitForPerson } from "./outbox";

const SESSION = {
  asks: true,
  signed_in: { initials: "IM", role: "technician", device: "d", device_name: "phone", can_use_pin: false },
  people_here: [],
  now: "2026-01-21T09:00:00Z",
  certificate_ends: null,
  certificate_is_near: false,
};
const kept = vi.fn();
const done = vi.fn();
let api: ReturnType<typeof fakeApi>;

beforeEach(async () => {
  await (await device()).clear("entries");
  await (await device()).clear("copies");
  noteReached(true);
  kept.mockClear();
  done.mockClear();
  api = fakeApi({ "GET /api/session": SESSION, "POST /api/timers": { id: "t" } });
  keepCopies(true);
  waitForPerson("IM");
});
afterEach(() => {
  waitForPerson(null);
  keepCopies(false);
});

/** From now on nothing gets through; what it returns lets everything through again. */
function cut(): () => void {
  const through = globalThis.fetch;
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("cut")));
  return () => vi.stubGlobal("fetch", through);
}

function Entering() {
  const send = useSend(
    (name: string, headers) => body(POST("/api/timers", { body: { name, seconds: 60, place: null }, headers })),
    done,
    { waits: { words: (name) => `Timer ${name}`, onKept: kept } },
  );
  const photo = useSend(
    (file: File, headers) => upload("/api/coupons/104R/photos", "photo", file, headers),
    undefined,
    { waits: { words: () => "Photo of 104R" } },
  );
  const { entries } = useOutbox();
  return (
    <>
      <Offline />
      <button onClick={() => send.mutate(`wash ${entries.length + 1}`)}>Enter</button>
      <button onClick={() => photo.mutate(new File(["picture"], "a.jpg", { type: "image/jpeg" }))}>Photo</button>
      <p>{send.error?.message}</p>
    </>
  );
}

const sentNames = () => api.of("POST", "/api/timers").map((one) => (one.body as { name: string }).name);

test("what is entered without a connection waits, is sent in order under its own key, and is gone", async () => {
  const { user } = show(<Entering />);
  await screen.findByText("Enter");
  const restore = cut();
  for (let n = 1; n <= 3; n += 1) {
    await user.click(screen.getByText("Enter"));
    await waitFor(() => expect(kept).toHaveBeenCalledTimes(n));
  }
  expect(screen.getByRole("status").dataset.waiting).toBe("3");
  const keys = (await (await device()).getAll("entries")).map((one) => one.key);
  expect(new Set(keys).size).toBe(3);
  restore();
  await sendAll();
  expect(sentNames()).toEqual(["wash 1", "wash 2", "wash 3"]);
  expect(api.of("POST", "/api/timers").map((one) => one.headers.get("Idempotency-Key"))).toEqual(keys);
  expect(Number(api.sent.at(-1)?.headers.get("Setback-Waited"))).toBeGreaterThanOrEqual(0);
  expect(await (await device()).count("entries")).toBe(0);
  expect(done).not.toHaveBeenCalled();
});

test("an entry made while others wait goes after them", async () => {
  const { user } = show(<Entering />);
  await screen.findByText("Enter");
  const restore = cut();
  await user.click(screen.getByText("Enter"));
  await waitFor(() => expect(kept).toHaveBeenCalledOnce());
  restore();
  await user.click(screen.getByText("Enter"));
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(sentNames()).toEqual(["wash 1", "wash 2"]);
});

test("a photo waits as it would have gone", async () => {
  api.answers["POST /api/coupons/104R/photos"] = { id: "p" };
  const { user } = show(<Entering />);
  await screen.findByText("Photo");
  const restore = cut();
  await user.click(screen.getByText("Photo"));
  await waitFor(async () => expect(await (await device()).count("entries")).toBe(1));
  const [entry] = await (await device()).getAll("entries");
  expect(entry!.type).toContain("multipart/form-data; boundary=");
  expect(new TextDecoder().decode(entry!.body)).toContain("picture");
  restore();
  await sendAll();
  expect(await (await device()).count("entries")).toBe(0);
});

test("where nobody signs in nothing waits: the person is told and what they typed stays", async () => {
  waitForPerson(null);
  api.answers["GET /api/session"] = { ...SESSION, asks: false, signed_in: null };
  const { user } = show(<Entering />);
  await screen.findByText("Enter");
  const restore = cut();
  await user.click(screen.getByText("Enter"));
  await screen.findByText(/The server does not answer/);
  restore();
  expect(kept).not.toHaveBeenCalled();
});

const STALE = {
  message: "RB read coupon 104R meanwhile.",
  differences: [{ field: "features.wall", words: "wall 0.3", yours: "formed", theirs: "absent" }],
  over: { supersedes_id: "theirs" },
};

/** An entry as an earlier session, or an earlier version of the app, left it. */
async function left(changes: object = {}, said: object = { name: "wash", reason: null }) {
  const entry = {
    key: crypto.randomUUID(),
    by: "IM",
    words: "Reading of 104R",
    page: "/coupons/104R",
    method: "POST",
    path: "/api/timers",
    type: "application/json",
    body: new TextEncoder().encode(JSON.stringify(said)).buffer,
    at: "2026-01-21T08:00:00Z",
    refused: null,
    ...changes,
  };
  // The device gives the number.
  await (await device()).add("entries", entry as never);
}

const stale = () => Response.json({ error: { fields: {}, suggest: {}, ...STALE } }, { status: 409 });

test("a conflict stands beside what the server has, and is saved over it with a reason", async () => {
  await left();
  const through = globalThis.fetch;
  vi.stubGlobal("fetch", (asked: Request | string, init?: RequestInit) =>
    asked === "/api/timers" ? Promise.resolve(stale()) : through(asked as Request, init),
  );
  await sendAll();
  vi.stubGlobal("fetch", through);
  const { user } = show(<WaitingPage />);
  await screen.findByText("RB read coupon 104R meanwhile.");
  expect(screen.getByRole("row", { name: "wall 0.3 formed absent" })).toBeTruthy();
  const save = await screen.findByRole<HTMLButtonElement>("button", { name: "Save mine over it" });
  expect(save.disabled).toBe(true);
  await user.type(screen.getByLabelText(/Why the earlier one/), "Looked again");
  await user.click(save);
  await screen.findByText(/Nothing waits/);
  expect(api.of("POST", "/api/timers").at(-1)?.body).toEqual({
    name: "wash",
    reason: "Looked again",
    supersedes_id: "theirs",
  });
});

test("a queue from before an upgrade: what the new server cannot read stays, with its words", async () => {
  await left({}, { name: "wash", minutes: 3 });
  api.answers["POST /api/timers"] = new Refusal(422, "minutes is not known here.");
  await sendAll();
  const { user } = show(<WaitingPage />);
  await screen.findByText("minutes is not known here.");
  await user.click(screen.getByText("What was entered"));
  expect(screen.getByText(/"minutes": 3/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Discard…" }));
  await user.click(screen.getByRole("button", { name: "Discard" }));
  await screen.findByText(/Nothing waits/);
  expect(await (await device()).count("entries")).toBe(0);
});

test("what follows a refused entry of the same page waits with it; other pages go on", async () => {
  await left({ refused: { status: 409, message: "No.", differences: [], over: null } });
  await left({ words: "the same page" });
  await left({ words: "another page", page: "/log/J-1" });
  expect(await sendAll()).toEqual({ sent: 1, refused: 0 });
  expect((await (await device()).getAll("entries")).map((one) => one.words)).toEqual([
    "Reading of 104R",
    "the same page",
  ]);
});

test("what was recorded long ago is taken out of the queue", async () => {
  await left();
  const through = globalThis.fetch;
  vi.stubGlobal("fetch", () =>
    Promise.resolve(Response.json({ error: { message: "Recorded already.", recorded: true } }, { status: 409 })),
  );
  await sendAll();
  vi.stubGlobal("fetch", through);
  expect(await (await device()).count("entries")).toBe(0);
});

test("another person's entries are sent by nobody but them, or accepted by a lead", async () => {
  await left({ by: "LO" });
  expect(await sendAll()).toEqual({ sent: 0, refused: 0 });
  const first = show(<WaitingPage />);
  await screen.findByText(/a lead signs in at this device/);
  expect(screen.queryByRole("button", { name: /Accept/ })).toBeNull();
  first.unmount();
  api.answers["GET /api/session"] = { ...SESSION, signed_in: { ...SESSION.signed_in, role: "lead" } };
  const { user } = show(<WaitingPage />);
  await user.click(await screen.findByRole("button", { name: "Accept as IM" }));
  await screen.findByText(/Nothing waits/);
  expect(api.of("POST", "/api/timers")).toHaveLength(1);
});

function Reading() {
  const query = useGet("/api/room", {}, { retry: false });
  return <p>{query.error?.message ?? (query.data ? "the room is known" : "…")}</p>;
}

test("without a connection the last answer is shown, and nothing of it once nobody is signed in", async () => {
  api.answers["GET /api/room"] = { room: null, stale: false };
  const first = show(<Reading />);
  await screen.findByText("the room is known");
  await waitFor(async () => expect(await (await device()).count("copies")).toBeGreaterThan(0));
  first.unmount();
  const restore = cut();
  const second = show(
    <>
      <Offline />
      <Reading />
    </>,
  );
  await screen.findByText("the room is known");
  await screen.findByText(/No connection/);
  second.unmount();
  restore();
  keepCopies(false);
  await waitFor(async () => expect(await (await device()).count("copies")).toBe(0));
});

function WithoutKey() {
  const send = useSend((name: string) => body(POST("/api/timers", { body: { name, seconds: 60, place: null } })), done);
  return <button onClick={() => send.mutate("wash")}>Enter</button>;
}

test.each([Entering, WithoutKey])("a stale edit is saved over theirs, or not, once both were seen", async (Form) => {
  const through = globalThis.fetch;
  vi.stubGlobal("fetch", (asked: Request | string, init?: RequestInit) =>
    typeof asked !== "string" && asked.url.endsWith("/api/timers")
      ? Promise.resolve(stale())
      : through(asked as Request, init),
  );
  const { user } = show(
    <>
      <WhoIsWorking />
      <Form />
    </>,
  );
  await user.click(await screen.findByText("Enter"));
  await screen.findByText("What stands now");
  await user.click(screen.getByRole("button", { name: "Close" }));
  await waitFor(() => expect(screen.queryByText("What stands now")).toBeNull());
  expect(done).not.toHaveBeenCalled();
  await user.click(screen.getByText("Enter"));
  await user.click(await screen.findByRole("button", { name: "Save mine over it" }));
  await waitFor(() => expect(done).toHaveBeenCalledOnce());
  expect(api.of("POST", "/api/timers").at(-1)?.body).toMatchObject({ supersedes_id: "theirs" });
});

test("a question asked while an entry fails does not take its place", async () => {
  const { user } = show(<Entering />);
  await screen.findByText("Enter");
  const restore = cut();
  const asking = body(
    POST("/api/ladder-quote" as "/api/timers", { body: { name: "?", seconds: 1, place: null } }),
  ).catch(() => null);
  await user.click(screen.getByText("Enter"));
  void body(POST("/api/ladder-quote" as "/api/timers", { body: { name: "?", seconds: 1, place: null } })).catch(
    () => null,
  );
  await asking;
  await waitFor(() => expect(kept).toHaveBeenCalledOnce());
  const [entry] = await (await device()).getAll("entries");
  expect(entry!.path).toBe("/api/timers");
  restore();
});
