import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { createMemoryRouter, RouterProvider } from "react-router";
import { expect, test, vi } from "vitest";
import { SECTIONS } from "./sections";
import { Shell } from "./Shell";

vi.mock("./Timers", () => ({ Timers: () => null }));
vi.mock("./RoomNow", () => ({ RoomNow: () => null }));
vi.mock("./people/TechnicianMenu", () => ({ TechnicianMenu: () => null }));
vi.mock("./Finder", () => ({
  Finder: ({ start }: { start: string | null }) => (start === null ? null : <p role="search">looking for “{start}”</p>),
}));

function show(at = "/board") {
  const router = createMemoryRouter(
    [{ path: "/", element: <Shell />, children: [{ path: "*", element: <p>the page</p> }] }],
    { initialEntries: [at] },
  );
  render(
    <QueryClientProvider client={new QueryClient()}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return router;
}
const nav = () => screen.getByRole("navigation", { name: "Sections", hidden: true });

test("sections stand in the order of work, each with a key of its own", () => {
  show();
  expect(
    within(nav())
      .getAllByRole("link")
      .map((one) => one.textContent),
  ).toEqual(SECTIONS.map((one) => one.name));
  expect(new Set(SECTIONS.map((one) => one.key)).size).toBe(SECTIONS.length);
});

test("the folded sections name where one is, open, and fold again when one has gone there", async () => {
  show("/calibrate/17");
  const toggle = screen.getByRole("button", { name: /Calibrate/ });
  await userEvent.click(toggle);
  expect(toggle.getAttribute("aria-expanded")).toBe("true");
  await userEvent.click(within(nav()).getByRole("link", { name: "Log" }));
  expect(screen.getByRole("button", { name: /Log/ }).getAttribute("aria-expanded")).toBe("false");
});

test("g and a letter goes to a section", async () => {
  const router = show();
  await userEvent.keyboard("gc");
  expect(router.state.location.pathname).toBe("/calibrate");
});

test.each([
  ["/materials/7", "Shelf"],
  ["/sets/S-001", "Calibrate"],
  ["/coupons/103N", "Calibrate"],
  ["/logistics", null],
])("%s belongs to %s", (at, section) => {
  show(at);
  expect(within(nav()).queryByRole("link", { current: "page" })?.textContent ?? null).toBe(section);
});

test("? lists the keys and / finds, whatever keys they are typed with", async () => {
  show();
  fireEvent.keyDown(document.body, { key: "/", code: "Digit7", shiftKey: true });
  expect(screen.getByRole("search").textContent).toContain("“”");
  fireEvent.keyDown(document.body, { key: "?", code: "Minus", shiftKey: true });
  expect(await screen.findByRole("dialog")).toBeTruthy();
});

test("a digit anywhere begins to look for a coupon", async () => {
  show();
  await userEvent.keyboard("1");
  expect(screen.getByRole("search").textContent).toContain("“1”");
});

test("a scanned label leads to what it names", () => {
  show("/board?find=104R");
  expect(screen.getByRole("search").textContent).toContain("104R");
});
