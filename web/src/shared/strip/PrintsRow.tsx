import type { Schemas } from "../api/client";
import { decimal, percent, THIN, threeDigits } from "../format";
import type { Axis } from "./axis";

export type PrintsTell = Schemas["PrintSuccessResult"];
type Props = {
  prints: PrintsTell;
  axis: Axis;
  left: number;
  right: number;
  y: number;
  height: number;
  narrow: boolean;
};

const LABEL_PX = 46;

/** What real prints tell, beside the coupons' lanes: hollow, as it rests on parts and not on features that were measured. */
export function PrintsRow({ prints, axis, left, right, y, height, narrow }: Props) {
  const tells = prints.seen.filter((one) => one.whole + one.under + one.over > 0);
  const inside = (exposure: number) => Math.min(Math.max(axis(exposure), left), right);
  const times = tells.map((one) => one.exposure_s);
  const [first, last] = [Math.min(...times), Math.max(...times)];
  // Shares nearer to each other than their words are wide leave the later one to the row's own words.
  const labelled = new Set<number>();
  for (const time of times)
    if ([...labelled].every((other) => Math.abs(axis(other) - axis(time)) >= LABEL_PX)) labelled.add(time);
  const top = y + (narrow ? 24 : 14);
  const words = lane(prints);
  return (
    <g className="prints-row" role="img" aria-label={`From prints: ${words}`}>
      <title>{words}</title>
      <text className={narrow ? "name" : "name end"} x={narrow ? left : left - 12} y={narrow ? y + 14 : y + 20}>
        Whole parts
      </text>
      {!narrow && (
        <text className="soft end" x={left - 12} y={y + 36}>
          from prints
        </text>
      )}
      <line className="base" x1={left} x2={right} y1={y + height} y2={y + height} />
      {prints.span_s && (
        <rect
          className="hollow"
          x={inside(prints.span_s[0])}
          width={Math.max(inside(prints.span_s[1]) - inside(prints.span_s[0]), 1)}
          y={top}
          height={16}
        />
      )}
      {[prints.exposure_for, prints.upper].map(
        (end, at) =>
          end && (
            <line
              key={at}
              className="end"
              x1={inside(end.ci_s[0] ?? first)}
              x2={inside(end.ci_s[1] ?? last)}
              y1={top + 8}
              y2={top + 8}
            />
          ),
      )}
      {tells.map((one) => {
        const share = one.whole / (one.whole + one.under + one.over);
        return (
          <g key={one.exposure_s} transform={`translate(${axis(one.exposure_s)} ${top + 8})`}>
            <circle className="dot" r={4} />
            {labelled.has(one.exposure_s) && (
              <text className="number soft" y={22} textAnchor="middle">
                {percent(share)}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** The row in words. */
function lane({ seen, exposure_for, upper, curve }: PrintsTell): string {
  const parts = seen.map(
    (one) => `${one.whole} of ${one.whole + one.under + one.over} whole at ${threeDigits(one.exposure_s)}${THIN}s`,
  );
  const end = (name: string, of: PrintsTell["upper"]) =>
    of &&
    `${name} ${threeDigits(of.exposure_s)}${THIN}s (${of.ci_s.map((at) => (at === null ? "outside" : decimal(at, 2))).join(" to ")})`;
  return [
    ...parts,
    end("95 % whole from", exposure_for),
    end("up to", upper),
    curve && !upper && "no upper end: nothing failed for too much light",
  ]
    .filter(Boolean)
    .join(", ");
}
