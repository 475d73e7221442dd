import { expect, test } from "vitest";
import { perDegree } from "./perDegree";

const said = (percent_per_c: number, percent_per_c_ci: [number, number] | null) => {
  const { change, uncertainty } = perDegree({ percent_per_c, percent_per_c_ci });
  return `${change} (${uncertainty})`.replace(/\s/g, " ");
};

test.each([
  [-2.31, [-2.9, -1.7], "2.3 % less (1.7 to 2.9 %)"],
  [-2.31, [-14.6, 11.8], "2 % less (15 % less to 12 % more)"],
  [1.24, [0.4, 2.1], "1.2 % more (0.4 to 2.1 %)"],
  [-2.31, null, "2.3 % less (null)"],
  [-12.4, [-14.6, -10.2], "12 % less (10 to 15 %)"],
])("%s with %j reads as %s", (value, ci, words) => expect(said(value, ci as [number, number] | null)).toBe(words));

test("where the interval holds zero the words come first", () => {
  const said = perDegree({ percent_per_c: -2.3, percent_per_c_ci: [-14.6, 11.8] });
  expect(`${said.headline} ${said.rest}`.replace(/\s/g, " ")).toBe(
    "No effect shown (15 % less to 12 % more exposure per °C warmer)",
  );
  expect(perDegree({ percent_per_c: -2.3, percent_per_c_ci: [-2.9, -1.7] }).headline.replace(/\s/g, " ")).toBe(
    "2.3 % less",
  );
});
