import type { Schemas } from "../../shared/api/client";
import { decimal, percent, signed, size, THIN } from "../../shared/format";
import type { Arm, Calibration } from "./model";

type Prediction = Schemas["Prediction"];

/** An expected share; "more than" and "less than" need no tilde. */
function about(share: number): string {
  const text = percent(share);
  return /^[<>]/.test(text) ? text : `~${text}`;
}

export function predictionAt(result: Schemas["WindowResult"], at: number | null): Prediction | undefined {
  if (at === null) return undefined;
  return result.predictions.reduce<Prediction | undefined>(
    (best, one) => (best === undefined || Math.abs(one.exposure_s - at) < Math.abs(best.exposure_s - at) ? one : best),
    undefined,
  );
}

/** What is expected at the chosen exposure; expectations are told apart from readings by a tilde. */
export function Predicted({ at, calibration, arm }: { at: Prediction; calibration: Calibration; arm: Arm }) {
  const half = at.growth_ci_um && at.growth_um !== null ? (at.growth_ci_um[1] - at.growth_ci_um[0]) / 2 : null;
  const { limits } = calibration;
  const rows: [string, string][] = [];
  if (at.growth_um !== null)
    rows.push([
      "Edge growth",
      `~${signed(at.growth_um)}${half !== null ? ` ± ${decimal(Math.max(half, 1), 0)}` : ""}${THIN}µm`,
    ]);
  if (at.tip_probability !== null)
    rows.push([`${size(limits.tips_size_mm ?? 0)}${THIN}mm tip holds`, about(at.tip_probability)]);
  if (at.part_probability !== null)
    rows.push([`All ${limits.tips_per_part} tips of a part`, about(at.part_probability)]);
  if (at.walls_standing !== null)
    rows.push(["Wall sizes that stand", `~${decimal(at.walls_standing, 1)} of ${at.walls_of}`]);
  if (at.slots_open !== null) rows.push(["Slot sizes open", `~${decimal(at.slots_open, 1)} of ${at.slots_of}`]);
  if (at.bloom_um !== null) rows.push(["Lost under bridges", `~${decimal(at.bloom_um, 0)}${THIN}µm`]);
  if (at.margin_lower_pct !== null && at.margin_upper_pct !== null)
    rows.push(["Room before under / over", `${signed(-at.margin_lower_pct)} / ${signed(at.margin_upper_pct)}${THIN}%`]);
  rows.push(["Base layers", `${arm.settings.base_layers} × ${arm.settings.base_exposure_s}${THIN}s`]);
  rows.push([
    calibration.delay_includes_motion ? "Delay before exposure" : "Rest before exposure",
    `${arm.settings.rest_before_s}${THIN}s`,
  ]);
  const expected = (value: string) => /^[~<>]/.test(value);
  return (
    <table className="predicted" aria-label={`Expected at ${at.exposure_s} s`}>
      <tbody>
        {rows.map(([name, value]) => (
          <tr key={name}>
            <td>{name}</td>
            <td className={`num ${expected(value) ? "guess" : ""}`}>{value}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
