import { screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { Link, Route, Routes } from "react-router";
import { show } from "../testingTools";
import { PageBoundary } from "./PageBoundary";

let broken = true;
function Page() {
  if (broken) throw new Error("no such lane");
  return <p>the page</p>;
}
function App() {
  return (
    <>
      <Link to="/log">Log</Link>
      <PageBoundary>
        <Routes>
          <Route path="/log" element={<p>the log</p>} />
          <Route path="*" element={<Page />} />
        </Routes>
      </PageBoundary>
    </>
  );
}

test("a page that cannot be drawn says so, can be tried again, and leaves the other pages alone", async () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  broken = true;
  const { user } = show(<App />, { at: "/board" });
  expect(screen.getByRole("alert").textContent).toContain("no such lane");
  await user.click(screen.getByRole("link", { name: "Log" }));
  expect(screen.getByText("the log")).toBeTruthy();
  await user.click(screen.getByRole("link", { name: "Log" }));
  expect(screen.queryByRole("alert")).toBeNull();
});

test("trying again draws it anew", async () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  broken = true;
  const { user } = show(<App />, { at: "/board" });
  broken = false;
  await user.click(screen.getByRole("button", { name: "Try again" }));
  expect(screen.getByText("the page")).toBeTruthy();
});
