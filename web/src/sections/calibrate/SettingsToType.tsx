import { exposure, THIN } from "../../shared/format";
import type { Arm, Calibration } from "./model";

/** Every setting to type into the slicing program, in the order people meet them; then each coupon's exposure. */
export function SettingsToType({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const waiting = arm.coupons.filter((card) => card.status === "planned");
  return (
    <details className="mb-3 settings-to-type">
      <summary className="form-label">Settings for the slicing program</summary>
      <table className="table table-sm mb-0">
        <tbody>
          {arm.setting_lines.map((line) => (
            <tr key={line.name}>
              <th scope="row" className="fw-normal">
                {line.name}
              </th>
              <td className="text-end num text-nowrap">
                {line.value}
                {line.unit && `${THIN}${line.unit}`}
              </td>
            </tr>
          ))}
          {waiting.map((card) => (
            <tr key={card.code}>
              <th scope="row" className="fw-normal">
                Exposure of {card.code}
              </th>
              <td className="text-end num text-nowrap fw-bold">
                {exposure(card.exposure_s, calibration.exposure_step_s)}
                {THIN}s
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
