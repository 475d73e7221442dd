import { act, renderHook } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { ApiError } from "../api/client";
import { useEntry } from "./useEntry";

beforeEach(() => sessionStorage.clear());

const print = { volume_ml: 20 as number | null, seen: "", parts: [{ name: "clip" }] };

test("what a person typed stays when the app proposes something else", () => {
  const { result } = renderHook(() => useEntry(print));
  act(() => result.current.set({ volume_ml: 31 }));
  act(() => result.current.suggest({ volume_ml: 40, seen: "nothing" }));
  expect(result.current.values).toMatchObject({ volume_ml: 31, seen: "nothing" });
});

test("a field that is handed back takes what the app proposes, and keeps its value until then", () => {
  const { result } = renderHook(() => useEntry(print));
  act(() => result.current.set({ volume_ml: 31 }));
  act(() => result.current.release("volume_ml"));
  expect(result.current.values.volume_ml).toBe(31);
  act(() => result.current.suggest({ volume_ml: 40 }));
  expect(result.current.values.volume_ml).toBe(40);
});

test("two changes made one after the other are both there", () => {
  const { result } = renderHook(() => useEntry(print));
  act(() => {
    result.current.set({ seen: "a dent" });
    result.current.set({ volume_ml: null });
  });
  expect(result.current.values).toMatchObject({ seen: "a dent", volume_ml: null });
});

test("a message stands at its field, one about a line of a list belongs to the form, others stand elsewhere", () => {
  const { result } = renderHook(() => useEntry(print));
  const ours = new ApiError(422, "No.", {
    fields: { "parts.0.name": "Say what it is." },
    suggest: { volume_ml: 22 },
  });
  expect(result.current.checked(ours).elsewhere).toBeNull();
  expect(result.current.checked(ours).errors["parts.0.name"]).toBe("Say what it is.");
  expect(result.current.checked(ours).field("volume_ml").suggest).toBe(22);
  const other = new ApiError(409, "The vat is to be searched first.", { fields: { vat: "search it" } });
  expect(result.current.checked(null, other).elsewhere).toBe(other);
  expect("suggest" in result.current.checked(other).field("volume_ml")).toBe(false);
});

test("what was typed survives a reload until it is sent", () => {
  const first = renderHook(() => useEntry(print, "print"));
  act(() => first.result.current.set({ seen: "a dent" }));
  first.unmount();
  const again = renderHook(() => useEntry(print, "print"));
  expect(again.result.current.values).toEqual({ ...print, seen: "a dent" });
  act(() => again.result.current.forget());
  expect(renderHook(() => useEntry(print, "print")).result.current.values).toEqual(print);
});
