import type { Schemas } from "../api/client";
import { percent, THIN } from "../format";
import type { Axis } from "./axis";

type Props = {
  result: Schemas["WindowResult"];
  axis: Axis;
  left: number;
  right: number;
  y: number;
  height: number;
  narrow: boolean;
};

/** Room for a label above the ridge's top line. */
const HEAD = 16;

/** The chance that all requirements hold, at every printer step inside what was printed, with the cut-off for an offer. */
export function Ridge({ result, axis, left, right, y, height, narrow }: Props) {
  const { p_holds, cut_offs, missing_lanes } = result;
  if (!p_holds.length) return null;
  const top = y + HEAD;
  const base = y + height;
  const level = (p: number) => base - p * (base - top);
  const points = p_holds.map((one) => `${axis(one.exposure_s)} ${level(one.p)}`);
  const exposures = p_holds.map((one) => axis(one.exposure_s));
  const [first, last] = [Math.min(...exposures), Math.max(...exposures)];
  const area = `M${first} ${base}L${points.join("L")}L${last} ${base}z`;
  const cut = level(cut_offs.offer);
  const name = result.method === "prints" ? (result.lanes.parts?.needs ?? "Enough whole") : "All hold";
  const clip = `above-${Math.round(cut)}`;
  return (
    <g
      className={`ridge ${missing_lanes.length ? "partial" : ""}`}
      data-part="ridge"
      data-best={Math.max(...p_holds.map((one) => one.p))}
    >
      <clipPath id={clip}>
        <rect x={first} y={top} width={Math.max(last - first, 0)} height={Math.max(cut - top, 0)} />
      </clipPath>
      {narrow ? (
        <text x={left} y={y + 8} fontWeight={600}>
          {name}
        </text>
      ) : (
        <>
          <text x={left - 12} y={top + 12} textAnchor="end" fontWeight={600}>
            {name}
          </text>
          <text className="soft" x={left - 12} y={top + 30} textAnchor="end">
            {missing_lanes.length ? "of what was read" : "chance at each step"}
          </text>
        </>
      )}
      <line className="level" x1={left} x2={right} y1={top} y2={top} />
      <path className="all" d={area} />
      <path className="enough" d={area} clipPath={`url(#${clip})`} />
      <line className="cut" x1={left} x2={right} y1={cut} y2={cut} />
      <line className="base" x1={left} x2={right} y1={base} y2={base} />
      <text className="soft" x={right} y={top - 4} textAnchor="end">
        100{THIN}%
      </text>
      <text className="soft" x={right} y={cut + 15} textAnchor="end">
        {percent(cut_offs.offer)} offer
      </text>
    </g>
  );
}
