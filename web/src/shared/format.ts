import type { Schemas } from "./api/client";
import { decimalsInLab, inLabUnit, inMark, signOfUnit, thousands, writtenDay } from "./labForm";

/** How numbers, times and words of the job are shown. Thin space before units; no more digits than given. */
export const THIN = "\u2009";
export const MINUS = "\u2212";

/** Plain decimal with a true minus sign. */
export function decimal(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  return value < 0 && Number(text) !== 0 ? MINUS + inMark(text) : inMark(text);
}

/** A true minus sign in words that came with a plain one. */
export const trueMinus = (text: string) => text.replace(/(^|[~ ])-(?=\d)/g, `$1${MINUS}`);

/** Exposure on its printer's step, without a unit: as many decimals as the step has. */
export function exposure(value: number, step = 0.01): string {
  return inMark(value.toFixed(Math.max(decimalsOf(step), 1)));
}

/** A number as it is, such as a setting that was typed. */
export const plain = (value: number | null): string => (value === null ? "" : inMark(String(value)));

export function decimalsOf(step: number): number {
  const text = step.toString();
  return text.includes(".") ? text.length - text.indexOf(".") - 1 : 0;
}

/** Three significant digits, for computed ends between steps. */
export function threeDigits(value: number): string {
  return inMark(value >= 100 ? value.toFixed(0) : value >= 10 ? value.toFixed(1) : value.toFixed(2));
}

/** Two digits: what an estimate without an uncertainty of its own may claim. */
export function roughly(value: number): string {
  return inMark(String(Number(value.toPrecision(2))));
}

export function signed(value: number, digits = 0): string {
  const text = decimal(value, digits);
  return value > 0 && Number(value.toFixed(digits)) !== 0 ? `+${text}` : text;
}

export function percent(share: number): string {
  const value = 100 * share;
  if (value > 99.5 && value < 100) return `>99${THIN}%`;
  if (value > 0 && value < 0.5) return `<1${THIN}%`;
  return `${value.toFixed(0)}${THIN}%`;
}

/** A part of a mixture in percent, with a decimal where it has one. */
export const shareOf = (fraction: number): string => `${plain(Number((100 * fraction).toFixed(1)))} %`;

/** A screen's hours, whole: no meter tells more. */
export const screenHours = (hours: number): string => thousands(Math.round(hours));

/** A chance that was reckoned: never quite sure, never quite impossible. */
export function chance(share: number): string {
  return share >= 0.995 ? `>99${THIN}%` : share < 0.005 ? `<1${THIN}%` : percent(share);
}

/** 95 s → 2 min; 4800 s → 1 h 20. */
export function duration(seconds: number): string {
  const minutes = Math.max(1, Math.round(seconds / 60));
  if (minutes < 60) return `${minutes}${THIN}min`;
  const rest = minutes % 60;
  return rest ? `${Math.floor(minutes / 60)}${THIN}h ${rest.toString().padStart(2, "0")}` : `${minutes / 60}${THIN}h`;
}

export function millilitres(value: number): string {
  const digits = value === 0 || value >= 10 ? 0 : value < 0.1 ? 2 : 1;
  return `${decimal(value, digits)}${THIN}ml`;
}

/** A number in the unit this lab reads, without the unit: as fine as it was with `digits` decimals. */
export function inUnit(value: number, unit: string, digits: number, apart = false): string {
  const decimals = decimalsInLab(digits, unit);
  const there = inLabUnit(value, unit, apart);
  if (decimals >= 0) return decimal(there, decimals);
  const step = 10 ** -decimals;
  return decimal(Math.round(there / step) * step, 0);
}

/** A quantity with its unit, as this lab reads it. `apart`: a difference. */
export function quantity(value: number, unit: string, digits: number, apart = false): string {
  const sign = signOfUnit(unit);
  return `${inUnit(value, unit, digits, apart)}${sign && THIN}${sign}`;
}

/** A limit as it would be typed, in the unit this lab reads: up to four digits. */
export const asTyped = (value: number, unit: string): string =>
  inMark(trueMinus(String(Number(inLabUnit(value, unit).toPrecision(4)))));

/** To a tenth of a degree: a probe knows no more. */
export const temperature = (celsius: number, digits = Number.isInteger(celsius) ? 0 : 1): string =>
  quantity(celsius, "°C", digits);

/** A band of temperatures; one of no width is one temperature. */
export function temperatures(low: number, high: number, joint = "–"): string {
  const digits = Number.isInteger(low) && Number.isInteger(high) ? 0 : 1;
  return low === high ? temperature(low) : `${inUnit(low, "°C", digits)}${joint}${temperature(high, digits)}`;
}

/** A size without its unit, in the lab's: as many decimals as it needs, three of a millimetre at most. */
export function size(mm: number): string {
  return inMark(
    Number(inLabUnit(mm, "mm").toFixed(decimalsInLab(3, "mm") - (signOfUnit("mm") === "in" ? 1 : 0))).toString(),
  );
}

/** A size with its unit. */
export const millimetres = (mm: number): string => `${size(mm)}${THIN}${signOfUnit("mm")}`;

export function day(iso: string): string {
  return writtenDay(new Date(iso), true);
}

/** A day and a time; the year where it is not this one. */
export function moment(iso: string): string {
  const at = new Date(iso);
  return `${writtenDay(at, at.getFullYear() !== new Date().getFullYear())}, ${clockTime(iso)}`;
}

/** The side of a limit by its sign. */
export const SIDE: Record<"least" | "most", string> = { least: "≥", most: "≤" };

// Made once: making one takes as long as hundreds of times of day.
const CLOCK = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

export const clockTime = (iso: string): string => CLOCK.format(new Date(iso));

export const megabytes = (bytes: number): string => `${Math.round(bytes / 1e6)} MB`;

/** How many rows of a long list are shown: all of them, or the newest of many. */
export function shownOf(
  list: { data?: readonly unknown[] | undefined; total?: number | undefined; andMore?: boolean | undefined },
  one: string,
): string | undefined {
  if (!list.data) return undefined;
  const [shown, total] = [list.data.length, list.total ?? list.data.length];
  if (shown >= total && !list.andMore) return plural(shown, one);
  return `the last ${shown} of ${list.andMore ? "more than " : ""}${thousands(total)} ${one}s`;
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

export type Policy = Schemas["IssueInput"]["policy"];
export const POLICY_NAMES: Record<Policy, string> = {
  "size-true": "Nominal size",
  centre: "Centre",
  "support-safe": "Support-safe",
  "hardest-in-tolerance": "Hardest in tolerance",
  "own choice": "Own choice",
};

/** Kinds of coupon beside a drawing, in a word or two. */
export const KIND_NAMES: Record<string, string> = {
  flat: "flat",
  support: "support",
  "z-bridge": "Z bridge",
  grid: "grid",
  strip: "strip",
  own: "own",
} satisfies Record<Schemas["PlanInput"]["kind"], string>;

/** A lane by its name, where its window is at hand. */
export const laneName = (lanes: Record<string, { name: string }> | undefined, key: string): string =>
  lanes?.[key]?.name || key;
