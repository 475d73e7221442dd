import { act, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import { NumberField } from "./NumberField";
import type { Unit } from "./units";

let fromOutside: (value: number | null) => void;

function Held({
  start = null,
  unit = "s",
  onBad,
  ...rest
}: {
  start?: number | null;
  unit?: Unit;
  onBad?: (bad: boolean) => void;
  error?: string;
  suggest?: number;
}) {
  const [value, setValue] = useState<number | null>(start);
  fromOutside = setValue;
  return (
    <>
      <NumberField label="Exposure" unit={unit} value={value} onChange={setValue} onBad={onBad} {...rest} />
      <output>{value === null ? "nothing" : value}</output>
    </>
  );
}
const field = () => screen.getByRole<HTMLInputElement>("textbox", { name: "Exposure" });
const held = () => screen.getByRole("status").textContent;

test("takes a comma as well as a point", async () => {
  render(<Held />);
  await userEvent.type(field(), "2,4");
  expect(held()).toBe("2.4");
});

test("shows what it understood of another unit", async () => {
  render(<Held unit="mm" />);
  await userEvent.type(field(), "50 um");
  expect(held()).toBe("0.05");
  expect(screen.getByText(/= 0\.05/)).toBeTruthy();
});

test("says that a word is no number, keeps what was typed, and holds nothing", async () => {
  const bad = vi.fn();
  render(<Held start={2.5} onBad={bad} />);
  await userEvent.clear(field());
  await userEvent.type(field(), "soon");
  expect(field().value).toBe("soon");
  expect(held()).toBe("nothing");
  expect(bad).toHaveBeenLastCalledWith(true);
  expect(field().getAttribute("class")).toContain("is-invalid");
});

test("a number being typed is not rewritten on its way", async () => {
  render(<Held />);
  await userEvent.type(field(), "2.");
  expect(field().value).toBe("2.");
  await userEvent.type(field(), "50");
  expect(field().value).toBe("2.50");
  expect(held()).toBe("2.5");
});

test("a change from outside replaces the text", async () => {
  render(<Held start={2} />);
  act(() => fromOutside(3.5));
  expect(field().value).toBe("3.5");
  act(() => fromOutside(null));
  expect(field().value).toBe("");
});

test("a number that arrives while one stands in the field is replaced by typing, not added to", async () => {
  render(<Held />);
  await userEvent.click(field());
  act(() => fromOutside(6.8));
  await userEvent.keyboard("23");
  expect(field().value).toBe("23");
  expect(held()).toBe("23");
});

test("an error offers the number that would do", async () => {
  render(<Held start={9} error="The printer takes 0.1 s steps from 1 s to 5 s." suggest={5} />);
  await userEvent.click(screen.getByRole("button", { name: /Use 5/ }));
  expect(held()).toBe("5");
});
