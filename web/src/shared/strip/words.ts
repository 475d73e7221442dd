import type { Schemas } from "../api/client";
import { temperature, chance, exposure, percent, THIN, threeDigits } from "../format";
import type { StripMark } from "./marks";

type Result = Schemas["WindowResult"];

/** What the strip says: the chance at the chosen exposure, where an offer holds, or how things stand. */
export function summary(result: Result | null, chosen: number | null = null, step = 0.1): string[] {
  if (!result) return [];
  const provisional = result.provisional ? ["provisional"] : [];
  if (!result.p_holds.length) return result.window ? [earlier(result.window), ...provisional] : [];
  if (result.decision === "none")
    return [
      result.conflict
        ? `no exposure is right: lanes are ${result.conflict.gap_pct.toFixed(0)}${THIN}% apart`
        : "no exposure is right",
    ];
  const best = result.p_holds.reduce((one, other) => (other.p > one.p ? other : one));
  const of = requirement(result);
  const at = result.predictions.find((one) => chosen !== null && Math.abs(one.exposure_s - chosen) < step / 2);
  const here =
    at?.p != null
      ? `${of} with ${chance(at.p)}`
      : `${of} with ${chance(best.p)} at best, at ${exposure(best.exposure_s, step)}${THIN}s`;
  const enough = result.p_holds.filter((one) => one.p >= result.cut_offs.offer).map((one) => one.exposure_s);
  const reach = enough.length
    ? [
        `at ${percent(result.cut_offs.offer)} or better from ${exposure(Math.min(...enough), step)} to ${exposure(Math.max(...enough), step)}${THIN}s`,
      ]
    : [];
  return [here, ...reach, ...provisional];
}

/** What the chance is that of. */
function requirement({ missing_lanes, method, lanes }: Result): string {
  if (method === "prints") return lanes.parts?.needs ?? "enough parts whole";
  return missing_lanes.length ? "what was read holds" : "all requirements hold";
}

/** A window of the method before chances. */
function earlier({ lower_s, upper_s, latitude_pct }: NonNullable<Result["window"]>): string {
  const latitude = latitude_pct === null ? "" : ` · latitude ${latitude_pct.toFixed(0)}${THIN}%`;
  return `window ${threeDigits(lower_s)}–${threeDigits(upper_s)}${THIN}s${latitude}`;
}

/** Under which conditions it holds: the temperature, and how wide the window is. */
export function conditions(result: Result | null): string {
  if (!result?.p_holds.length) return "";
  const { window, reference_temp_c } = result;
  return [
    reference_temp_c !== null && `at ${temperature(reference_temp_c)}`,
    window && `window ${threeDigits(window.lower_s)}–${threeDigits(window.upper_s)}${THIN}s`,
    window &&
      (window.latitude_pct === null ? "latitude not shown" : `latitude ${window.latitude_pct.toFixed(0)}${THIN}%`),
  ]
    .filter(Boolean)
    .join(" · ");
}

/** Why there are no lanes yet. */
export function emptyWords(result: Result | null, marks: StripMark[], proposed = false): string {
  if (!marks.length && proposed) return "Rings: proposed coupons. Planned ones stand here in the order of exposure.";
  if (!marks.length) return "Coupons appear here in the order of exposure.";
  if (!result) return "Lanes appear when two coupons are read.";
  if (result.warnings.some((w) => w.code === "wrong-direction")) return "No lane can be drawn: more light made less.";
  return "One more exposure makes the first lanes.";
}
