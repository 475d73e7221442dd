import { expect, test } from "vitest";
import { changed, NOTHING, oneMore, without } from "./groups";

const two = [
  { ...NOTHING, material_id: "slate", is_reference: true },
  { ...NOTHING, material_id: "kelp" },
];

test("how the first group lies on the plate is how the others lie, until one is told apart", () => {
  const flat = changed(two, 0, { orientation: "flat" });
  expect(flat.map((one) => one.orientation)).toEqual(["flat", "flat"]);
  const apart = changed(changed(flat, 1, { orientation: "upright" }), 0, { orientation: "on edge" });
  expect(apart.map((one) => one.orientation)).toEqual(["on edge", "upright"]);
});

test("another material in the first group changes nothing in the second", () => {
  expect(changed(two, 0, { material_id: "hull", set_code: "S-006" })[1]).toEqual(two[1]);
});

test("there is one reference, and one is left when it goes", () => {
  expect(changed(two, 1, { is_reference: true }).map((one) => one.is_reference)).toEqual([false, true]);
  expect(without(two, 0)).toEqual([{ ...NOTHING, material_id: "kelp", is_reference: true }]);
  expect(without(two, 1)).toEqual([two[0]]);
});

test("one group more is prepared like the last one, without its material", () => {
  const more = oneMore(changed(two, 1, { supports: "light", cure_min: 4, set_code: "S-001" }));
  expect(more[2]).toEqual({ ...NOTHING, supports: "light", cure_min: 4 });
});
