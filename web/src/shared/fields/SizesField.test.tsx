import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { expect, test } from "vitest";
import { parse, SizesField } from "./SizesField";

function Held({ start = null }: { start?: number[] | null }) {
  const [values, setValues] = useState<number[] | null>(start);
  return (
    <>
      <SizesField label="Times" unit="s" values={values} onChange={setValues} hint="each twice the one before" />
      <button onClick={() => setValues(null)}>forget</button>
      <output>{JSON.stringify(values)}</output>
    </>
  );
}
const field = () => screen.getByRole<HTMLInputElement>("textbox", { name: "Times" });
const held = () => screen.getByRole("status").textContent;

test.each([
  ["3 6 12", [3, 6, 12]],
  ["2,2 2,6", [2.2, 2.6]],
  ["2.2; 2.6;3", [2.2, 2.6, 3]],
  ["1, 2, 3", [1, 2, 3]],
  ["  ", null],
  ["3 soon", "bad"],
])("%s", (text, read) => expect(parse(text)).toEqual(read));

test("what is no number is kept, said, and does not replace what was understood", async () => {
  render(<Held />);
  await userEvent.type(field(), "3 6 x");
  expect(field().value).toBe("3 6 x");
  expect(screen.getByText("Give numbers with spaces between them.")).toBeTruthy();
  expect(held()).toBe("[3,6]");
});

test("forgetting from outside empties the field", async () => {
  render(<Held start={[3, 6]} />);
  expect(field().value).toBe("3  6");
  await userEvent.click(screen.getByRole("button", { name: "forget" }));
  expect(field().value).toBe("");
});

test("values that come from outside replace what stands there", () => {
  const { rerender } = render(<SizesField label="Thickness" unit="mm" values={null} onChange={() => undefined} />);
  const field = screen.getByLabelText<HTMLInputElement>("Thickness");
  rerender(<SizesField label="Thickness" unit="mm" values={[0.24, 0.25]} onChange={() => undefined} />);
  expect(field.value).toBe("0.24  0.25");
  rerender(<SizesField label="Thickness" unit="mm" values={null} onChange={() => undefined} />);
  expect(field.value).toBe("");
});
