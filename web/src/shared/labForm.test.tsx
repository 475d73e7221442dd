import { scaleLinear } from "d3-scale";
import { useState } from "react";
import { act, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { show } from "../testingTools";
import { NumberField } from "./fields/NumberField";
import { understand } from "./fields/units";
import {
  asTyped,
  decimal,
  exposure,
  inUnit,
  millimetres,
  quantity,
  size,
  temperature,
  temperatures,
  THIN,
} from "./format";
import { followLab, thousands, USUAL } from "./labForm";
import { ticksOf } from "./plot/Axes";

afterEach(() => act(() => followLab(USUAL)));
const american = { ...USUAL, temperature_unit: "°F", length_unit: "in", stress_unit: "psi" } as const;

describe("in the units a lab reads", () => {
  it("temperatures and their differences are told apart", () => {
    followLab(american);
    expect(temperature(23.4)).toBe(`74.1${THIN}°F`);
    expect(temperatures(22, 28)).toBe(`72–82${THIN}°F`);
    expect(quantity(3, "°C", 0, true)).toBe(`5${THIN}°F`);
  });
  it("sizes and strengths claim no more digits than they had", () => {
    followLab(american);
    expect(millimetres(0.42)).toBe(`0.0165${THIN}in`);
    expect(size(8.04)).toBe("0.3165");
    expect(quantity(41.2, "MPa", 1)).toBe(`5980${THIN}psi`);
    expect(inUnit(38, "MPa", 0)).toBe("5500");
    expect(asTyped(38, "MPa")).toBe("5511");
    expect(quantity(5.25, "J", 2)).toBe(`5.25${THIN}J`);
  });
  it("an axis has round numbers of the unit that is read, at their right places", () => {
    followLab(american);
    const ticks = ticksOf(scaleLinear([15, 30], [0, 150]), { count: 5, unit: "°C" });
    expect(ticks.map((one) => one.text)).toEqual(["60", "65", "70", "75", "80", "85"]);
    expect(ticks[1]?.at).toBeCloseTo(18.333, 3);
  });
  it("a decimal comma stands in every number", () => {
    followLab({ ...USUAL, decimal_mark: "," });
    expect([decimal(-2.5, 1), exposure(2.65, 0.05), temperature(23.4), thousands(1204)]).toEqual([
      "\u22122,5",
      "2,65",
      `23,4${THIN}°C`,
      `1${THIN}204`,
    ]);
  });
});

describe("entry", () => {
  it("takes every unit whatever is shown, and a bare number in the one at the field", () => {
    expect(understand("73 °F", "°C")).toEqual({ value: 22.8, converted: true });
    followLab(american);
    expect(understand("73", "°C")).toEqual({ value: 22.8, converted: false });
    expect(understand("23 °C", "°C")).toEqual({ value: 23, converted: true });
    expect(understand("73 F", "°C")).toEqual({ value: 22.8, converted: false });
    expect(understand("0.5", "mm")).toEqual({ value: 12.7, converted: false });
    expect(understand("5800 psi", "MPa")).toMatchObject({ converted: false });
    expect(understand("40 MPa", "MPa")).toEqual({ value: 40, converted: true });
    expect(understand("3 bar", "MPa")).toEqual({ problem: "“bar” is no unit for this. Give psi." });
  });
  it("keeps its quantity where the units are switched in the middle of a draft", () => {
    const values: (number | null)[] = [];
    function Draft() {
      const [value, setValue] = useState<number | null>(23);
      values.push(value);
      return <NumberField label="Resin" unit="°C" value={value} onChange={setValue} />;
    }
    show(<Draft />);
    const field = screen.getByLabelText<HTMLInputElement>("Resin");
    expect(field.value).toBe("23");
    act(() => followLab(american));
    expect(field.value).toBe("73.4");
    expect(screen.getByText("°F")).toBeTruthy();
    act(() => followLab(USUAL));
    expect(field.value).toBe("23");
    expect(new Set(values)).toEqual(new Set([23]));
  });
});
