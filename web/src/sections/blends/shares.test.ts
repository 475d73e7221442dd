import { expect, test } from "vitest";
import { sharesOf, suggestedName } from "./shares";

const line = (material_id: string, percent: number | null) => ({ material_id, percent });

test("the one open line takes what is missing to a hundred", () => {
  const { parts, rest, open } = sharesOf([line("slate", null), line("kelp", 18)]);
  expect([rest, open]).toEqual([82, 1]);
  expect(parts).toEqual([
    { material_id: "slate", fraction: 0.82 },
    { material_id: "kelp", fraction: 0.18 },
  ]);
});

test("two open lines leave the rest to nobody", () => {
  expect(
    sharesOf([line("slate", null), line("kelp", null), line("iron", 40)]).parts.map((one) => one.fraction),
  ).toEqual([0, 0, 0.4]);
});

test("more than a hundred leaves nothing, never less than nothing", () => {
  expect(sharesOf([line("slate", null), line("kelp", 120)]).parts[0]!.fraction).toBe(0);
});

test("a line without a material is not there yet", () => {
  expect(sharesOf([line("", 30), line("kelp", 18)]).used).toHaveLength(1);
});

test("two parts are called after the larger one, whichever stands first", () => {
  const name = (id: string) => ({ slate: "Slate 2", kelp: "Kelpflex" })[id]!;
  expect(
    suggestedName(
      [
        { material_id: "slate", fraction: 0.82 },
        { material_id: "kelp", fraction: 0.18 },
      ],
      name,
    ),
  ).toBe("Slate 2 + 18 % Kelpflex");
  expect(
    suggestedName(
      [
        { material_id: "kelp", fraction: 0.125 },
        { material_id: "slate", fraction: 0.875 },
      ],
      name,
    ),
  ).toBe("Slate 2 + 12.5 % Kelpflex");
  expect(suggestedName([{ material_id: "kelp", fraction: 1 }], name)).toBe("");
});
