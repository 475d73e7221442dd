import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { useGet } from "../shared/api/useGet";
import { fakeApi, show } from "../testingTools";
import { Together } from "./Together";

let api: ReturnType<typeof fakeApi>;
let news: object;
const quiet = (since: string) => ({ since, tables: [], changed_by: [], also_here: [] });
beforeEach(() => {
  vi.useFakeTimers({ toFake: ["setInterval", "clearInterval"] });
  news = { ...quiet("p-0"), tables: null };
  api = fakeApi({
    "GET /api/together": () => news,
    "GET /api/timers": { now: "", items: [] },
  });
});
afterEach(() => {
  vi.useRealTimers();
});

function Page() {
  const timers = useGet("/api/timers");
  return (
    <main id="main">
      <p>{timers.data ? "timers" : "none"}</p>
      <input aria-label="Note" />
      <Together />
    </main>
  );
}
const asked = () => api.of("GET", "/api/timers").length;
const later = () => act(() => vi.advanceTimersByTimeAsync(3_100));

async function opened() {
  const shown = show(<Page />, { at: "/board" });
  await screen.findByText("timers");
  await waitFor(() => expect(api.of("GET", "/api/together")).toHaveLength(1));
  await waitFor(() => expect(asked()).toBe(1));
  return shown;
}

test("what others changed is on the page seconds later, and asked for once", async () => {
  await opened();
  news = { ...quiet("p-1"), tables: ["timer"], changed_by: ["RB"] };
  await later();
  await waitFor(() => expect(asked()).toBe(2));
  expect(api.of("GET", "/api/together")[1]!.query).toMatchObject({ since: "p-0", page: "/board" });
  news = quiet("p-1");
  await later();
  expect(asked()).toBe(2);
});

test("nothing moves under a hand that types, until it leaves the field or asks for it", async () => {
  await opened();
  const field = screen.getByLabelText("Note");
  field.focus();
  fireEvent.input(field, { target: { value: "left" } });
  news = { ...quiet("p-1"), tables: ["timer"], changed_by: ["RB"] };
  await later();
  expect(await screen.findByText(/RB changed what this page shows/)).toBeTruthy();
  news = { ...quiet("p-2"), tables: ["job"], changed_by: ["IM"] };
  await later();
  expect(await screen.findByText(/RB, IM changed/)).toBeTruthy();
  expect(asked()).toBe(1);
  fireEvent.focusOut(field);
  await waitFor(() => expect(asked()).toBe(2));
  expect(screen.queryByText(/changed what this page shows/)).toBeNull();
});

test("it is shown when that is asked for, with the hand still at the field", async () => {
  await opened();
  fireEvent.input(screen.getByLabelText("Note"), { target: { value: "left" } });
  news = { ...quiet("p-1"), tables: null, changed_by: [] };
  await later();
  fireEvent.click(await screen.findByRole("button", { name: "Show it" }));
  await waitFor(() => expect(asked()).toBe(2));
});

test("who else has the page open stands in the bar", async () => {
  news = { ...quiet("p-0"), also_here: ["?", "RB"] };
  await opened();
  expect(await screen.findByText("Somebody, RB also has this page open")).toBeTruthy();
});

test("a server that does not answer is asked again and nothing is lost", async () => {
  await opened();
  const answered = api.answers["GET /api/together"];
  delete api.answers["GET /api/together"];
  await later();
  api.answers["GET /api/together"] = answered;
  news = { ...quiet("p-1"), tables: ["timer"] };
  await later();
  await waitFor(() => expect(asked()).toBe(2));
});
