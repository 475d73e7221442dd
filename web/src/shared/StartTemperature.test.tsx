import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { MemoryRouter } from "react-router";
import { beforeEach, expect, test, vi } from "vitest";
import { GET } from "./api/client";
import { NO_START, StartTemperature, startBody, type Start } from "./StartTemperature";

vi.mock("./api/client", async (original) => ({ ...(await original<object>()), GET: vi.fn() }));
const asked = vi.mocked(GET);

const says = (data: unknown) => ({ data, response: new Response() });
const PROBE = { now: { temp_c: 6.823, place: "room", probe: "Shed wall", at: "2026-01-21T07:00:00Z" } };
const COLD = {
  side: "below",
  words: "Colder than its band.",
  remedy: "A warm start puts it right.",
  printer_id: "p",
  set_code: "S-001",
};

let answers: Record<string, unknown>;
let held: Start;

beforeEach(() => {
  answers = { "/api/how-warm": says(PROBE), "/api/band": says({ side: null }) };
  asked.mockReset();
  asked.mockImplementation(((path: string) => Promise.resolve(answers[path])) as unknown as typeof GET);
});

function Form({
  setCode = null,
  errors = {},
  at = null,
}: {
  setCode?: string | null;
  at?: string | null;
  errors?: Record<string, string>;
}) {
  const [start, setStart] = useState<Start>(NO_START);
  held = start;
  return <StartTemperature printer="p" setCode={setCode} value={start} onChange={setStart} errors={errors} at={at} />;
}
function show(props: Parameters<typeof Form>[0] = {}) {
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter>
        <Form {...props} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return screen.getByRole<HTMLInputElement>("textbox", { name: "Temperature at start" });
}

test("a probe fills it in to a tenth, and is named", async () => {
  const field = show();
  await waitFor(() => expect(field.value).toBe("6.8"));
  expect(screen.getByText("by Shed wall")).toBeTruthy();
  expect(startBody(held)).toEqual({ temp_c: 6.8, temp_place: "room", temp_end_c: null, outside_band: "" });
});

test("what a person typed before the probe answered stays", async () => {
  let answer: (value: unknown) => void = () => undefined;
  answers["/api/how-warm"] = new Promise((resolve) => (answer = resolve));
  const field = show();
  await userEvent.type(field, "23");
  await act(async () => answer(says(PROBE)));
  expect(field.value).toBe("23");
  expect(held.temp).toBe(23);
});

test("without a probe it is asked, and an empty one sends no place", async () => {
  answers["/api/how-warm"] = says({ now: null });
  const field = show();
  await act(async () => undefined);
  expect(field.value).toBe("");
  expect(startBody(held)).toEqual({ temp_c: null, temp_place: null, temp_end_c: null, outside_band: "" });
});

test("outside the set's band it says so, what puts it right, and asks for a reason", async () => {
  answers["/api/band"] = says(COLD);
  show({ setCode: "s-001" });
  expect(await screen.findByText("Colder than its band.")).toBeTruthy();
  expect(screen.getByRole("link", { name: "Plan a warm start" }).getAttribute("href")).toBe(
    "/climate/warm-start?printer=p&set=S-001",
  );
  await userEvent.type(screen.getByLabelText("Print anyway because"), "a trial");
  expect(startBody(held).outside_band).toBe("a trial");
});

test("too warm is no case for a warm start", async () => {
  answers["/api/band"] = says({ ...COLD, side: "above", words: "Warmer than its band." });
  show({ setCode: "S-001" });
  expect(await screen.findByText("Warmer than its band.")).toBeTruthy();
  expect(screen.queryByRole("link", { name: "Plan a warm start" })).toBeNull();
});

test("half a code is not asked about", async () => {
  const field = show({ setCode: "S-0" });
  await waitFor(() => expect(field.value).toBe("6.8"));
  expect((asked.mock.calls as unknown as [string][]).map(([path]) => path)).not.toContain("/api/band");
});

test("of a print that came out already it is asked why it was printed, and no warm start is offered", async () => {
  answers["/api/band"] = says(COLD);
  show({ setCode: "S-001", at: "2026-01-21T07:00:00Z" });
  expect(await screen.findByLabelText("Printed all the same because")).toBeTruthy();
  expect(screen.queryByRole("link", { name: "Plan a warm start" })).toBeNull();
});
