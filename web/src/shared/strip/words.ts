import type { Schemas } from "../api/client";
import { THIN, threeDigits } from "../format";
import type { StripMark } from "./marks";

type Result = Schemas["WindowResult"];

/** The window, or how far apart the lanes are. */
export function summary(result: Result | null): string {
  if (!result) return "";
  if (result.window) {
    const { lower_s, upper_s, latitude_pct } = result.window;
    const provisional = result.provisional ? " · provisional" : "";
    return `window ${threeDigits(lower_s)}–${threeDigits(upper_s)}${THIN}s · latitude ${latitude_pct.toFixed(0)}${THIN}%${provisional}`;
  }
  if (result.conflict) return `lanes are ${result.conflict.gap_pct.toFixed(0)}${THIN}% apart`;
  return "";
}

/** Why there are no lanes yet. */
export function emptyWords(result: Result | null, marks: StripMark[], proposed = false): string {
  if (!marks.length && proposed)
    return "Rings: the coupons proposed beside. Planned ones stand here in the order of exposure.";
  if (!marks.length) return "Coupons appear here in the order of exposure.";
  if (!result) return "Lanes appear when two coupons are read.";
  if (result.warnings.some((w) => w.code === "wrong-direction")) return "No lane can be drawn: more light made less.";
  return "One more exposure makes the first lanes.";
}
