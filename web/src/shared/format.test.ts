import { describe, expect, it } from "vitest";
import {
  decimal,
  duration,
  exposure,
  millilitres,
  percent,
  plural,
  roughly,
  screenHours,
  shareOf,
  shownOf,
  signed,
  size,
  threeDigits,
  THIN,
} from "./format";

describe("numbers as they are shown", () => {
  it("an exposure has as many decimals as its printer's step", () => {
    expect(exposure(2.6, 0.1)).toBe("2.6");
    expect(exposure(2.6, 0.05)).toBe("2.60");
    expect(exposure(12, 1)).toBe("12.0");
  });
  it("a computed end has three digits", () => {
    expect([0.98765, 2.3456, 12.345, 123.4].map(threeDigits)).toEqual(["0.99", "2.35", "12.3", "123"]);
  });
  it("minus is a true minus, and zero has no sign", () => {
    expect(signed(-12.3)).toBe("\u221212");
    expect(signed(12.3)).toBe("+12");
    expect(signed(0.2)).toBe("0");
    expect(signed(-0.2)).toBe("0");
    expect(decimal(-0.04, 1)).toBe("0.0");
  });
  it("a share is never said to be certain", () => {
    expect(percent(0.97)).toBe(`97${THIN}%`);
    expect(percent(0.9991)).toBe(`>99${THIN}%`);
    expect(percent(0.001)).toBe(`<1${THIN}%`);
    expect(percent(1)).toBe(`100${THIN}%`);
  });
  it("a part of a mixture has a decimal where it needs one, a screen's hours none", () => {
    expect([0, 0.06, 0.12, 0.1746].map(shareOf)).toEqual(["0 %", "6 %", "12 %", "17.5 %"]);
    expect([417.271, 2900.6].map(screenHours)).toEqual(["417", "2,901"]);
  });
  it("times are in minutes, then hours", () => {
    expect([20, 95, 3599, 3600, 4800].map(duration)).toEqual([
      `1${THIN}min`,
      `2${THIN}min`,
      `1${THIN}h`,
      `1${THIN}h`,
      `1${THIN}h 20`,
    ]);
  });
  it("millilitres keep two digits of what is little", () => {
    expect([0.031, 1.24, 12.6].map(millilitres)).toEqual([`0.03${THIN}ml`, `1.2${THIN}ml`, `13${THIN}ml`]);
  });
  it("sizes lose trailing zeros", () => {
    expect([0.35, 0.209, 7].map(size)).toEqual(["0.35", "0.209", "7"]);
  });
  it("counts agree with their noun", () => {
    expect([plural(1, "coupon"), plural(0, "coupon"), plural(2, "box", "boxes")]).toEqual([
      "1 coupon",
      "0 coupons",
      "2 boxes",
    ]);
  });
});

it("an estimate claims two digits", () => {
  expect([1313, 0.1249, 86.4, 7].map(roughly)).toEqual(["1300", "0.12", "86", "7"]);
});

it("a long list says how much of it is shown, and when nobody counted to its end", () => {
  const data = ["a", "b"];
  expect(shownOf({ data: undefined }, "print")).toBeUndefined();
  expect(shownOf({ data, total: 2 }, "print")).toBe("2 prints");
  expect(shownOf({ data, total: 9, andMore: false }, "print")).toBe("the last 2 of 9 prints");
  expect(shownOf({ data, total: 10_000, andMore: true }, "print")).toBe("the last 2 of more than 10,000 prints");
  expect(shownOf({ data, total: 2, andMore: true }, "print")).toBe("the last 2 of more than 2 prints");
});
