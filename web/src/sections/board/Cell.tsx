import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { THIN, threeDigits, temperatures, roughly, plain } from "../../shared/format";
import { markFor, StateMark } from "../../shared/StateMark";
import { MiniStrip } from "../../shared/strip/MiniStrip";
import { age, shortAge } from "../earlier/age";

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
        {board.printers.length <= MANY_PRINTERS && <span className="do">Calibrate</span>}
      </Link>
    );
  const window: [number, number] | null = cell.lower_s && cell.upper_s ? [cell.lower_s, cell.upper_s] : null;
  const axis = board.axis_s ?? [1, 10];
  if (cell.state === "predicted")
    return (
      <Link
        {...shared}
        className="cell guess"
        to={start}
        title={cell.why ?? name}
        aria-label={`${name}: estimate, about ${threeDigits(cell.exposure_s ?? 0)} s. Calibrate`}
      >
        <span className="on d-none">{printer.name}</span>
        <span className="first">
          <span className="big">
            ~{guessed(cell.exposure_s ?? 0)}
            <small>{THIN}s</small>
          </span>
          <StateMark name="predicted" />
        </span>
        <MiniStrip axis={axis} tried={window} guess={cell.exposure_s} />
        <span className="note">{cell.why}</span>
      </Link>
    );
  if (cell.state === "in use")
    return (
      <Link
        {...shared}
        className="cell"
        to={`/shelf/in-use/${cell.provisional_code}`}
        title={`${name}: in use, not shown`}
        aria-label={`${name}: in use, not shown, ${plain(cell.exposure_s)} s, ${inUse(cell)}`}
      >
        <span className="on d-none">{printer.name}</span>
        <span className="first">
          <span className="big">
            {plain(cell.exposure_s)}
            <small>{THIN}s</small>
          </span>
          <StateMark
            name="in use"
            word={cell.in_use_days === null ? "in use" : `in use ${shortAge(cell.in_use_days)}`}
          />
        </span>
        <MiniStrip axis={axis} window={window} exposure={cell.exposure_s} fromPrints />
        <span className="note">{inUse(cell)}</span>
      </Link>
    );
  if (cell.state !== "calibrating")
    return (
      <Link
        {...shared}
        className="cell"
        to={`/sets/${cell.set_code}`}
        title={`${name}: ${about(cell)}`}
        aria-label={`${name}: ${markFor(cell.state).word}, ${plain(cell.exposure_s)} s${cell.from_prints ? ", from prints" : ""}${cell.why ? `. ${cell.why}` : ""}`}
      >
        <span className="on d-none">{printer.name}</span>
        <span className="first">
          <span className="big">
            {plain(cell.exposure_s)}
            <small>{THIN}s</small>
          </span>
          <StateMark name={cell.state} />
        </span>
        <MiniStrip
          axis={axis}
          window={window}
          exposure={cell.exposure_s}
          lapsed={cell.state === "lapsed"}
          fromPrints={cell.from_prints}
        />
        <span className="note">{about(cell)}</span>
      </Link>
    );
  return (
    <Link
      {...shared}
      className="cell"
      to={`/calibrate/${cell.calibration_id}`}
      title={`${name}: ${underWay(cell)}`}
      aria-label={`${name}: calibrating, ${cell.from_prints ? "by prints of parts" : `${cell.read} of ${cell.coupons} coupons read`}`}
    >
      <span className="on d-none">{printer.name}</span>
      <span className="first">
        <StateMark name="calibrating" />
        {!cell.from_prints && <span className="small text-secondary">{cell.read} read</span>}
      </span>
      <MiniStrip
        axis={axis}
        tried={cell.lowest_s !== null && cell.highest_s !== null ? [cell.lowest_s, cell.highest_s] : null}
      />
      <span className="note">{underWay(cell)}</span>
    </Link>
  );
}

/** Where settings in use come from, and how long they have been. */
function inUse(cell: Schemas["Cell"]): string {
  const days = cell.in_use_days;
  return [cell.source_words, days !== null && age(days), cell.from_prints && "from prints"].filter(Boolean).join(" · ");
}

/** A guess has two significant digits: more would promise what nobody knows. */
function guessed(seconds: number): string {
  return roughly(seconds);
}

/** Why it is due or lapsed, else for which temperatures it holds and how wide its window is. */
function about(cell: Schemas["Cell"]): string {
  const band =
    cell.temp_low_c !== null && cell.temp_high_c !== null && `${temperatures(cell.temp_low_c, cell.temp_high_c)}`;
  const latitude = cell.latitude_pct !== null && `${cell.latitude_pct.toFixed(0)}${THIN}% latitude`;
  const again = cell.calibration_id && "being calibrated again";
  const how = cell.from_prints && "from prints";
  return [...(cell.why ? [cell.why] : [band, latitude]), how, again].filter(Boolean).join(" · ");
}

/** How far a calibration is, and between which exposures it looks. */
function underWay(cell: Schemas["Cell"]): string {
  if (cell.from_prints) return "by prints of parts";
  const range =
    cell.lowest_s !== null && cell.highest_s !== null
      ? `${threeDigits(cell.lowest_s)} to ${threeDigits(cell.highest_s)}${THIN}s`
      : "no ladder yet";
  const waiting = cell.waiting > 0 && `${cell.waiting} waiting`;
  const planned = cell.planned > 0 && `${cell.planned} to print`;
  return [range, `${cell.read} read`, waiting, planned].filter(Boolean).join(", ");
}
