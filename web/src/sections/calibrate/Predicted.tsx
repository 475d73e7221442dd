import type { Schemas } from "../../shared/api/client";
import { chance, decimal, signed, THIN, millimetres, plain } from "../../shared/format";
import type { Arm, Calibration } from "./model";

type Prediction = Schemas["Prediction"];

/** An expected share; "more than" and "less than" need no tilde. */
function about(share: number): string {
  const text = chance(share);
  return /^[<>]/.test(text) ? text : `~${text}`;
}

export function predictionAt(result: Schemas["WindowResult"], at: number | null): Prediction | undefined {
  if (at === null) return undefined;
  return result.predictions.reduce<Prediction | undefined>(
    (best, one) => (best === undefined || Math.abs(one.exposure_s - at) < Math.abs(best.exposure_s - at) ? one : best),
    undefined,
  );
}

type Row = { name: string; value: string; between?: string };

const range = (interval: [number, number] | null, show: (value: number) => string) =>
  interval ? `(${show(interval[0])} to ${show(interval[1])})` : undefined;

/** What is expected at an exposure, each with its interval where it has one. */
function expected(at: Prediction, { limits }: Calibration): Row[] {
  const rows: Row[] = [];
  const share = (name: string, value: number | null, interval: [number, number] | null) =>
    value !== null &&
    rows.push({ name, value: about(value), between: range(interval, (end) => (100 * end).toFixed(0)) });
  const count = (name: string, value: number | null, interval: [number, number] | null, of: number | null) =>
    value !== null &&
    rows.push({
      name,
      value: `~${decimal(value, 1)} of ${of}`,
      between: range(interval, (end) => decimal(end, 1)),
    });
  if (at.growth_um !== null)
    rows.push({
      name: "Edge growth",
      value: `~${signed(at.growth_um)}${THIN}µm`,
      between: range(at.growth_ci_um, (end) => signed(end)),
    });
  share(`${millimetres(limits.tips_size_mm ?? 0)} tip holds`, at.tip_probability, at.tip_ci);
  share(`All ${limits.tips_per_part} tips of a part`, at.part_probability, at.part_ci);
  count("Wall sizes that stand", at.walls_standing, at.walls_ci, at.walls_of);
  count("Slot sizes open", at.slots_open, at.slots_ci, at.slots_of);
  if (at.bloom_um !== null)
    rows.push({
      name: "Z loss under bridges",
      value: `~${decimal(at.bloom_um, 0)}${THIN}µm`,
      between: range(at.bloom_ci_um, (end) => decimal(end, 0)),
    });
  return rows;
}

/** What is expected at the chosen exposure, with intervals; expectations are told apart from readings by a tilde. */
export function Predicted({ at, calibration, arm }: { at: Prediction; calibration: Calibration; arm: Arm }) {
  const rows = expected(at, calibration);
  const margin = (side: string, value: number | null, interval: [number, number] | null) =>
    value !== null &&
    rows.push({
      name: `Margin to ${side}`,
      value: `~${decimal(value, 0)}${THIN}%`,
      between: range(interval, (end) => decimal(end, 0)),
    });
  margin("underexposure", at.margin_lower_pct, at.margin_lower_ci_pct);
  margin("overexposure", at.margin_upper_pct, at.margin_upper_ci_pct);
  rows.push({
    name: "Base layers",
    value: `${arm.settings.base_layers} × ${plain(arm.settings.base_exposure_s)}${THIN}s`,
  });
  rows.push({
    name: calibration.delay_includes_motion ? "Delay before exposure" : "Rest before exposure",
    value: `${plain(arm.settings.rest_before_s)}${THIN}s`,
  });
  return (
    <table className="predicted" aria-label={`Expected at ${plain(at.exposure_s)} s`}>
      <tbody>
        {rows.map(({ name, value, between }) => (
          <tr key={name}>
            <td>{name}</td>
            <td className={`num ${/^[~<>]/.test(value) ? "guess" : ""}`}>
              {value}
              {between && <small className="between">{between}</small>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
