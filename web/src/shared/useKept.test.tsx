import { act, renderHook } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { useKept } from "./useKept";

beforeEach(() => sessionStorage.clear());
const first = { low: 1, high: 4 };

test("what was changed is there again after a reload", () => {
  const page = renderHook(() => useKept("ladder", first));
  act(() => page.result.current[1]({ low: 2, high: 4 }));
  page.unmount();
  expect(renderHook(() => useKept("ladder", first)).result.current[0]).toEqual({ low: 2, high: 4 });
});

test("changes made one after the other build on each other", () => {
  const page = renderHook(() => useKept("ladder", first));
  act(() => {
    page.result.current[1]((held) => ({ ...held, low: 2 }));
    page.result.current[1]((held) => ({ ...held, high: 8 }));
  });
  expect(page.result.current[0]).toEqual({ low: 2, high: 8 });
});

test("once saved it is forgotten, and another place knows nothing of it", () => {
  const page = renderHook(() => useKept("ladder", first));
  act(() => page.result.current[1]({ low: 2, high: 4 }));
  expect(renderHook(() => useKept("another", first)).result.current[0]).toEqual(first);
  act(() => page.result.current[2]());
  page.unmount();
  expect(renderHook(() => useKept("ladder", first)).result.current[0]).toEqual(first);
});

test("what cannot be read is as good as nothing", () => {
  sessionStorage.setItem("setback.kept.ladder", "{broken");
  expect(renderHook(() => useKept("ladder", first)).result.current[0]).toEqual(first);
});
