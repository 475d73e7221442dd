/** How this lab writes days and money. Kept in the browser, so that the first page is drawn in it before the server answers. */
import type { Schemas } from "./api/client";

type LabForm = Pick<Schemas["LabSettingsView"], "currency" | "date_form">;
const PLACE = "setback.lab-form";
const USUAL: LabForm = { currency: "", date_form: "29 Nov 2026" };
let form: LabForm = { ...USUAL, ...read() };

function read(): Partial<LabForm> {
  try {
    return JSON.parse(localStorage.getItem(PLACE) ?? "{}") as Partial<LabForm>;
  } catch {
    return {};
  }
}

/** Take over what the lab's settings say. */
export function followLab({ currency, date_form }: LabForm): void {
  form = { currency, date_form };
  localStorage.setItem(PLACE, JSON.stringify(form));
}

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
export const money = (value: number): string => `${sign()}${value.toFixed(2)}`;

/** A unit as it stands at a field: what is paid per litre is paid in the lab's currency. */
export const signOfUnit = (unit: string): string =>
  unit === "money" ? form.currency : unit.startsWith("/") ? `${form.currency}${unit}` : unit;
