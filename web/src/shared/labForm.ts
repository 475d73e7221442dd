/** How this lab writes days, money, units and decimals. Everything is kept in °C, mm and MPa; only what is read is written anew. Kept in the browser, so that the first page is drawn in it before the server answers. */
import { useSyncExternalStore } from "react";
import type { Schemas } from "./api/client";

type LabForm = Pick<
  Schemas["LabSettingsView"],
  "currency" | "date_form" | "temperature_unit" | "length_unit" | "stress_unit" | "decimal_mark"
>;
const PLACE = "setback.lab-form";
/** As it is until a lab says otherwise. */
export const USUAL: LabForm = {
  currency: "",
  date_form: "29 Nov 2026",
  temperature_unit: "°C",
  length_unit: "mm",
  stress_unit: "MPa",
  decimal_mark: ".",
};
let form: LabForm = { ...USUAL, ...read() };
const listeners = new Set<() => void>();

function read(): Partial<LabForm> {
  try {
    return JSON.parse(localStorage.getItem(PLACE) ?? "{}") as Partial<LabForm>;
  } catch {
    return {};
  }
}

/** Take over what the lab's settings say. */
export function followLab(settings: LabForm): void {
  const { currency, date_form, temperature_unit, length_unit, stress_unit, decimal_mark } = settings;
  const next = { currency, date_form, temperature_unit, length_unit, stress_unit, decimal_mark };
  localStorage.setItem(PLACE, JSON.stringify(next));
  if (JSON.stringify(next) === JSON.stringify(form)) return;
  form = next;
  listeners.forEach((told) => told());
}

/** Whether this browser has been told before. */
export const formIsKnown = (): boolean => localStorage.getItem(PLACE) !== null;

/** The form as it is now; whoever uses this is drawn anew when it changes. */
export const useLabForm = (): LabForm =>
  useSyncExternalStore(
    (told) => {
      listeners.add(told);
      return () => listeners.delete(told);
    },
    () => form,
  );

const LOCALES = { "29 Nov 2026": "en-GB", "Nov 29, 2026": "en-US", "2026-11-29": "sv-SE" } as const;

/** A day in the lab's form; without its year where it is this one and the form can do without. */
export function writtenDay(at: Date, withYear: boolean): string {
  if (form.date_form === "2026-11-29") return at.toLocaleDateString(LOCALES[form.date_form]);
  return at.toLocaleDateString(LOCALES[form.date_form], {
    day: "numeric",
    month: "short",
    ...(withYear && { year: "numeric" as const }),
  });
}

/** The sign of the currency as it stands before a figure: a word keeps its distance. */
const sign = () => (/\p{L}$/u.test(form.currency) ? `${form.currency}\u2009` : form.currency);

/** A sum of money with the lab's sign before it. */
export const money = (value: number): string => `${sign()}${inMark(value.toFixed(2))}`;

/** How many of the other unit one of ours is, and how many more decimals it then has. */
const OTHER: Record<string, { factor: number; offset: number; decimals: number }> = {
  "°F": { factor: 9 / 5, offset: 32, decimals: 0 },
  in: { factor: 1 / 25.4, offset: 0, decimals: 2 },
  psi: { factor: 1e6 / 6894.757293168, offset: 0, decimals: -2 },
};

function readIn(unit: string): string {
  if (unit === "°C") return form.temperature_unit;
  if (unit === "mm") return form.length_unit;
  return unit === "MPa" ? form.stress_unit : unit;
}

/** A unit as it stands at a number: the one this lab reads; what is paid per litre is paid in its currency. */
export const signOfUnit = (unit: string): string =>
  unit === "money" ? form.currency : unit.startsWith("/") ? `${form.currency}${unit}` : readIn(unit);

/** A kept number in the unit this lab reads. `apart`: a difference, which has no zero of its own. */
export function inLabUnit(value: number, unit: string, apart = false): number {
  const other = OTHER[readIn(unit)];
  return other ? value * other.factor + (apart ? 0 : other.offset) : value;
}

/** A number of the unit this lab reads, as it is kept. */
export function asKept(value: number, unit: string): number {
  const other = OTHER[readIn(unit)];
  return other ? (value - other.offset) / other.factor : value;
}

/** Decimals in the unit this lab reads that tell as much as these do; below zero: tens, hundreds. */
export const decimalsInLab = (decimals: number, unit: string): number =>
  decimals + (OTHER[readIn(unit)]?.decimals ?? 0);

/** A written number with the lab's decimal mark. */
export const inMark = (text: string): string => (form.decimal_mark === "," ? text.replace(".", ",") : text);

/** A count with its thousands apart. */
export const thousands = (count: number): string =>
  form.decimal_mark === "," ? count.toLocaleString("en-GB").replaceAll(",", "\u2009") : count.toLocaleString("en-GB");
