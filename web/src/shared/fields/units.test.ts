import { describe, expect, it } from "vitest";
import { understand } from "./units";

const value = (text: string, unit: Parameters<typeof understand>[1]) => understand(text, unit);

describe("numbers as people type them", () => {
  it("takes comma and point", () => {
    expect(value("2,35", "s")).toEqual({ value: 2.35, converted: false });
    expect(value(" 2.35 s ", "s")).toEqual({ value: 2.35, converted: false });
  });
  it("converts common units", () => {
    expect(value("0.05 mm", "µm")).toEqual({ value: 50, converted: true });
    expect(value("50 µm", "mm")).toEqual({ value: 0.05, converted: true });
    expect(value("72 F", "°C")).toEqual({ value: 22.2, converted: true });
    expect(value("1.5 mm/s", "mm/min")).toEqual({ value: 90, converted: true });
    expect(value("0.5 l", "ml")).toEqual({ value: 500, converted: true });
  });
  it("knows a true minus sign", () => {
    expect(value("\u22123", "µm")).toEqual({ value: -3, converted: false });
  });
  it("refuses what is no number, and units of another kind", () => {
    expect(value("about two", "s")).toHaveProperty("problem");
    expect(value("1e9", "s")).toHaveProperty("problem");
    expect(value("NaN", "s")).toHaveProperty("problem");
    expect(value("3 kg", "mm")).toHaveProperty("problem");
  });
  it("leaves an empty field empty", () => {
    expect(value("  ", "s")).toBeNull();
  });
});
