/** What component tests share: a stand-in for the server, and a page round the component. */
import { focusManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, render } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactElement } from "react";
import { MemoryRouter, useLocation } from "react-router";
import { vi } from "vitest";
import { ShortcutProvider } from "./app/shortcuts";
import { TechnicianProvider } from "./app/people/technician";
import { Toasts } from "./app/toasts";

type Sent = { method: string; path: string; query: Record<string, string>; body: unknown; headers: Headers };

/** An answer that refuses, with messages at their fields. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly message: string,
    readonly fields: Record<string, string> = {},
  ) {}
}

/** A server at which nobody signs in. */
const ALONE = {
  asks: false,
  signed_in: null,
  people_here: [],
  now: "2026-01-21T09:00:00Z",
  certificate_ends: null,
  certificate_is_near: false,
};

/** Answers by "METHOD /path"; a function makes its answer from what was sent. Everything sent is kept in order. */
export function fakeApi(answers: Record<string, unknown>) {
  const sent: Sent[] = [];
  vi.stubGlobal("fetch", async (asked: Request | string, init?: RequestInit) => {
    // Files go by their address and as they are; everything else is a request with JSON in it.
    const file = typeof asked === "string" ? init?.body : null;
    const request = typeof asked === "string" ? new Request(asked, { ...init, body: null }) : asked;
    const url = new URL(request.url);
    // What waited goes by its address too, as the bytes it was made of.
    const isKept =
      String(file) === "[object ArrayBuffer]" && request.headers.get("Content-Type") === "application/json";
    const text = isKept ? new TextDecoder().decode(file as ArrayBuffer) : await request.text();
    const one = {
      method: request.method,
      path: url.pathname,
      query: Object.fromEntries(url.searchParams),
      body: (isKept ? null : file) ?? (text ? (JSON.parse(text) as unknown) : undefined),
      headers: request.headers,
    };
    // Every page asks this; only tests of signing in answer it themselves.
    if (one.path === "/api/session" && !("GET /api/session" in answers)) return Response.json(ALONE);
    sent.push(one);
    const held = answers[`${one.method} ${one.path}`];
    const made = typeof held === "function" ? await (held as (sent: Sent) => unknown)(one) : held;
    if (made === undefined) return refused(new Refusal(404, `Nothing answers ${one.method} ${one.path}.`));
    return made instanceof Refusal ? refused(made) : Response.json(made);
  });
  return {
    sent,
    answers,
    of: (method: string, path: string) => sent.filter((one) => one.method === method && one.path === path),
  };
}

/** Long work that ends because it was stopped, and not before: the page asks for it all the while. */
export function endsWhenStopped(api: ReturnType<typeof fakeApi>, id: string, running: object, cancelled: object) {
  api.answers[`POST /api/jobs/${id}/cancel`] = () => {
    api.answers[`GET /api/jobs/${id}`] = cancelled;
    return running;
  };
}

const refused = ({ status, message, fields }: Refusal) => Response.json({ error: { message, fields } }, { status });

/** The component on a page, at an address, with somebody at work; `place` says where the page has gone. */
export function show(element: ReactElement, { at = "/", who = "IM" }: { at?: string; who?: string | null } = {}) {
  if (who) localStorage.setItem("setback.technician", who);
  const drawn = render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <TechnicianProvider>
        <Toasts>
          <ShortcutProvider>
            <MemoryRouter initialEntries={[at]}>
              {element}
              <Place />
            </MemoryRouter>
          </ShortcutProvider>
        </Toasts>
      </TechnicianProvider>
    </QueryClientProvider>,
  );
  return { ...drawn, user: userEvent.setup(), place: () => drawn.getByTestId("place").textContent };
}

function Place() {
  const { pathname, search } = useLocation();
  return (
    <span data-testid="place" hidden>
      {pathname + search}
    </span>
  );
}

/** What is on screen is asked for once more, as when somebody comes back to the window. */
export function askedAnew(): void {
  act(() => {
    focusManager.setFocused(false);
    focusManager.setFocused(true);
  });
}

/** Plots and strips draw to the width of their box, which happy-dom does not know. */
export function wide(width = 900): void {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(private readonly tell: (entries: { contentRect: { width: number } }[]) => void) {}
      observe = () => this.tell([{ contentRect: { width } }]);
      disconnect = () => undefined;
    },
  );
}
