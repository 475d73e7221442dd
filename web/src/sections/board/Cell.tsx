import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { THIN, threeDigits } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";
import { MiniStrip } from "../../shared/strip/MiniStrip";

/** Beyond this many printers cells become compact. */
export const MANY_PRINTERS = 5;

type Props = {
  cell: Schemas["Cell"] | undefined;
  material: Schemas["BoardMaterial"];
  printer: Schemas["BoardPrinter"];
  board: Schemas["Board"];
};

/** What is known of one material on one printer at this layer height. */
export function Cell({ cell, material, printer, board }: Props) {
  const start = `/calibrate/new?material=${material.id}&printer=${printer.id}${board.layer_height_um ? `&height=${board.layer_height_um}` : ""}`;
  const name = `${material.name} on ${printer.name}`;
  const shared = { "data-start": start, title: name };
  if (!cell)
    return (
      <Link {...shared} className="cell none" to={start} aria-label={`${name}: not calibrated. Calibrate`}>
        <span>
          <span className="on d-none">{printer.name}</span>
          {board.printers.length > MANY_PRINTERS ? "–" : "not calibrated"}
        </span>
      </Link>
    );
  const window: [number, number] | null = cell.lower_s && cell.upper_s ? [cell.lower_s, cell.upper_s] : null;
  const axis = board.axis_s ?? [1, 10];
  if (cell.state === "issued")
    return (
      <Link {...shared} className="cell" to={`/sets/${cell.set_code}`} aria-label={`${name}: issued, ${cell.exposure_s} s`}>
        <span className="on d-none">{printer.name}</span>
        <span className="first">
          <span className="big">
            {cell.exposure_s}
            <small>{THIN}s</small>
          </span>
          <StateMark name="issued" />
        </span>
        <MiniStrip axis={axis} window={window} exposure={cell.exposure_s} />
        <span className="note">
          {cell.temp_low_c !== null && cell.temp_high_c !== null && `${cell.temp_low_c}–${cell.temp_high_c}${THIN}°C`}
          {cell.latitude_pct !== null && ` · ${cell.latitude_pct.toFixed(0)}${THIN}% latitude`}
          {cell.calibration_id && " · being calibrated again"}
        </span>
      </Link>
    );
  return (
    <Link {...shared} className="cell" to={`/calibrate/${cell.calibration_id}`} aria-label={`${name}: calibrating, ${cell.read} of ${cell.coupons} coupons read`}>
      <span className="on d-none">{printer.name}</span>
      <span className="first">
        <span className="num fw-bold tried-range" style={{ color: "var(--violet)" }}>
          {cell.lowest_s !== null && cell.highest_s !== null ? `${threeDigits(cell.lowest_s)} … ${threeDigits(cell.highest_s)}` : "no ladder yet"}
        </span>
        <StateMark name="calibrating" />
      </span>
      <MiniStrip axis={axis} tried={cell.lowest_s !== null && cell.highest_s !== null ? [cell.lowest_s, cell.highest_s] : null} />
      <span className="note">
        {cell.read} read
        {cell.waiting > 0 && `, ${cell.waiting} waiting`}
        {cell.planned > 0 && `, ${cell.planned} to print`}
      </span>
    </Link>
  );
}
