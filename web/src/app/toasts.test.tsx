import { act, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Toasts, useSay } from "./toasts";

let say: ReturnType<typeof useSay>;
function Page() {
  say = useSay();
  return null;
}
const notes = () => screen.queryAllByRole("status").map((one) => one.querySelector("span")!.textContent);

beforeEach(() => {
  vi.useFakeTimers();
  render(
    <Toasts>
      <Page />
    </Toasts>,
  );
});
afterEach(() => vi.useRealTimers());

test("a note makes room for the next one", () => {
  act(() => say("D-001 is measured."));
  act(() => say("D-002 is measured."));
  expect(notes()).toEqual(["D-002 is measured."]);
});

test("what can still be undone stays beside a newer note, and undo runs once", () => {
  const undo = vi.fn();
  act(() => say("Planned 101J.", undo));
  act(() => say("D-001 is measured."));
  expect(notes()).toEqual(["Planned 101J.", "D-001 is measured."]);
  fireEvent.click(screen.getByRole("button", { name: "Undo" }));
  expect(undo).toHaveBeenCalledOnce();
  act(() => void vi.advanceTimersByTime(1));
  expect(notes()).toEqual(["D-001 is measured."]);
});

test("undo is offered for ten seconds", () => {
  act(() => say("Planned 101J.", () => undefined));
  act(() => void vi.advanceTimersByTime(9_000));
  expect(notes()).toEqual(["Planned 101J."]);
  act(() => void vi.advanceTimersByTime(2_000));
  expect(screen.queryByRole("button", { name: "Undo" })).toBeNull();
});

test("a plain note leaves sooner", () => {
  act(() => say("Saved."));
  act(() => void vi.advanceTimersByTime(6_000));
  expect(notes()).toEqual([]);
});
