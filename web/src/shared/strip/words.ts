import type { Schemas } from "../api/client";
import { size, THIN, threeDigits } from "../format";
import type { StripMark } from "./marks";

type Result = Schemas["WindowResult"];
type Limits = Schemas["Limits"];

/** What a lane asks for, in its second line. */
export function laneWords(name: string, limits: Limits): string {
  const share = (p: number) => `${Number((100 * p).toFixed(1))}${THIN}%`;
  switch (name) {
    case "size": {
      const target = limits.growth_target_um ? `${limits.growth_target_um} ` : "";
      return `within ${target}±${limits.growth_tol_um}${THIN}µm`;
    }
    case "z":
      return `at most ${limits.z_bloom_max_um}${THIN}µm`;
    case "walls":
      return `${size(limits.walls_size_mm ?? 0)}${THIN}mm, ${share(limits.walls_probability)} stand`;
    case "slots":
      return `${size(limits.slots_size_mm ?? 0)}${THIN}mm, ${share(limits.slots_probability)} open`;
    case "tips":
      return limits.tips_per_part
        ? `${size(limits.tips_size_mm ?? 0)}${THIN}mm, ${limits.tips_per_part} hold ${share(limits.tips_probability)}`
        : `${size(limits.tips_size_mm ?? 0)}${THIN}mm, hold ${share(limits.tips_probability)}`;
    case "cure":
      return "binds to the layer below";
    case "fail-tip":
      return `${size(limits.fail_tip_size_mm ?? 0)}${THIN}mm lets go`;
    default:
      return "";
  }
}

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
export function emptyWords(result: Result | null, marks: StripMark[]): string {
  if (!marks.length) return "Coupons appear here in the order of exposure.";
  if (!result) return "Lanes appear when two coupons are read.";
  if (result.warnings.some((w) => w.code === "wrong-direction")) return "No lane can be drawn: more light made less.";
  return "One more exposure makes the first lanes.";
}
