import { expect, it } from "vitest";
import { csv } from "./csv";

it("quotes, escapes and never exports a formula", () => {
  expect(
    csv(
      ["name", "ml"],
      [
        ['Slate "2", grey', 12.5],
        ["=1+1", null],
        ["-3", 4],
      ],
    ),
  ).toBe('name,ml\r\n"Slate ""2"", grey",12.5\r\n\'=1+1,\r\n\'-3,4\r\n');
});
