import { asKept, signOfUnit } from "../labForm";

/** Reads a number as people type it: comma or point, with or without a common unit. */
/** A unit by its sign, as the server names it. One without a rule below takes plain numbers. */
export type Unit = string;

type Rule = { factor: number; offset?: number; decimals?: number };
const RULES: Partial<Record<Unit, Record<string, Rule>>> = {
  s: { s: { factor: 1 }, sec: { factor: 1 }, ms: { factor: 0.001 }, min: { factor: 60 } },
  µm: { um: { factor: 1 }, micron: { factor: 1 }, microns: { factor: 1 }, mm: { factor: 1000 } },
  mm: { mm: { factor: 1 }, um: { factor: 0.001 }, cm: { factor: 10 }, in: { factor: 25.4 }, '"': { factor: 25.4 } },
  "°C": { c: { factor: 1 }, f: { factor: 5 / 9, offset: -32, decimals: 1 } },
  ml: { ml: { factor: 1 }, l: { factor: 1000 }, cl: { factor: 10 } },
  l: { l: { factor: 1 }, ml: { factor: 0.001 } },
  months: { months: { factor: 1 }, y: { factor: 12 } },
  min: { min: { factor: 1 }, s: { factor: 1 / 60 }, h: { factor: 60 } },
  h: { h: { factor: 1 }, min: { factor: 1 / 60 } },
  "%": { "%": { factor: 1 } },
  "g/ml": { "g/ml": { factor: 1 }, "g/cm3": { factor: 1 }, "kg/l": { factor: 1 } },
  N: {
    n: { factor: 1 },
    kn: { factor: 1000 },
    kgf: { factor: 9.80665 },
    kg: { factor: 9.80665 },
    lbf: { factor: 4.4482216 },
  },
  m: { m: { factor: 1 }, cm: { factor: 0.01 }, mm: { factor: 0.001 }, ft: { factor: 0.3048 }, in: { factor: 0.0254 } },
  g: { g: { factor: 1 }, kg: { factor: 1000 }, mg: { factor: 0.001 } },
  kg: { kg: { factor: 1 }, g: { factor: 0.001 }, lb: { factor: 0.45359237 } },
  "°": { "": { factor: 1 }, deg: { factor: 1 }, rad: { factor: 57.29577951 } },
  "N/mm": { "n/mm": { factor: 1 }, "kgf/mm": { factor: 9.80665 } },
  cycles: { cycles: { factor: 1 }, k: { factor: 1000 } },
  MPa: { mpa: { factor: 1 }, psi: { factor: 0.006894757293 }, "n/mm2": { factor: 1 }, gpa: { factor: 1000 } },
  "mm/min": { "mm/min": { factor: 1 }, "mm/s": { factor: 60 } },
};

/** A bare number means the unit this lab reads; it is kept to about as many digits as were typed. */
function bare(number: number, unit: Unit): number {
  const kept = asKept(number, unit);
  if (kept === number) return number;
  return Number(unit === "°C" ? kept.toFixed(1) : kept.toPrecision(6));
}

export type Understood = { value: number; converted: boolean } | { problem: string };

export function understand(text: string, unit: Unit): Understood | null {
  const plain = text
    .trim()
    .toLowerCase()
    .replace(/[\u2212\u2013]/g, "-")
    .replace(/[µμ]/g, "u")
    .replace(/°/g, "")
    .replace(/[\s\u2009\u00a0]+/g, "");
  if (!plain) return null;
  const found = /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))(.*)$/.exec(plain);
  if (!found) return { problem: "Give a number." };
  const number = Number(found[1]?.replace(",", "."));
  const suffix = found[2];
  if (!Number.isFinite(number)) return { problem: "Give a number." };
  if (!suffix) return { value: bare(number, unit), converted: false };
  const rule = RULES[unit]?.[suffix];
  if (!rule)
    return { problem: unit ? `“${suffix}” is no unit for this. Give ${signOfUnit(unit)}.` : "Give a plain number." };
  const exact = (number + (rule.offset ?? 0)) * rule.factor;
  const value = Number(rule.decimals === undefined ? exact.toPrecision(12) : exact.toFixed(rule.decimals));
  const isShown = signOfUnit(unit).toLowerCase().replace("°", "") === suffix;
  return {
    value,
    converted: !isShown && (rule.factor !== 1 || rule.offset !== undefined || signOfUnit(unit) !== unit),
  };
}
