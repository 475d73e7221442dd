import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { beforeEach, expect, test, vi } from "vitest";
import { body, POST } from "./client";
import { takeTouched } from "./touched";
import { useGet } from "./useGet";
import { useSend } from "./useSend";

let asked: string[] = [];
let written: string | null = "timer";
let status = 200;

beforeEach(() => {
  asked = [];
  status = 200;
  takeTouched();
  vi.stubGlobal("fetch", async (request: Request) => {
    const path = new URL(request.url).pathname;
    asked.push(`${request.method} ${path}`);
    const read: Record<string, string> = { "/api/timers": "timer technician", "/api/heaters": "heater" };
    const answer = Response.json(status < 400 ? { items: [] } : { error: { message: "No." } }, { status });
    const tables = request.method === "GET" ? (read[path] ?? null) : written;
    if (tables !== null) answer.headers.set(request.method === "GET" ? "Setback-Read" : "Setback-Written", tables);
    return answer;
  });
});

/** A page with timers, heaters and rooms, whose rooms do not say what they are read from; and a change. */
async function page() {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  const { result } = renderHook(
    () => ({
      timers: useGet("/api/timers"),
      heaters: useGet("/api/heaters"),
      room: useGet("/api/room"),
      change: useSend((timer_id: string) =>
        body(POST("/api/timers/{timer_id}/end", { params: { path: { timer_id } } })),
      ),
    }),
    { wrapper },
  );
  await waitFor(() => expect(result.current.room.isSuccess && result.current.heaters.isSuccess).toBe(true));
  asked = [];
  return async () => {
    await act(() => result.current.change.mutateAsync("t").catch(() => undefined));
    return asked.filter((one) => one.startsWith("GET"));
  };
}

test("a change asks anew for what was read from the tables it wrote, and for what does not say", async () => {
  written = "timer idempotency";
  const change = await page();
  expect(await change()).toEqual(["GET /api/timers", "GET /api/room"]);
});

test("a change that does not say what it wrote asks anew for everything", async () => {
  written = null;
  const change = await page();
  expect((await change()).toSorted()).toEqual(["GET /api/heaters", "GET /api/room", "GET /api/timers"]);
});

test("a change that was refused asks for nothing, and the next one is not mixed up with it", async () => {
  written = "heater";
  const change = await page();
  status = 422;
  expect(await change()).toEqual([]);
  status = 200;
  expect(await change()).toEqual(["GET /api/heaters", "GET /api/room"]);
});
