import { scaleLinear } from "d3-scale";
import { SIDE, asTyped } from "../format";
import type { Schemas } from "../api/client";
import "./plot.scss";
import { signOfUnit } from "../labForm";

type Judged = Schemas["Judged"];
const WIDTH = 260;
const HEIGHT = 62;

/** One requirement as a small plot: specimens, mean with interval, bound, and the side that is asked for. */
export function RequirementPlot({ judged, small }: { judged: Judged; small?: boolean }) {
  const { used, line, demand } = judged;
  const bound = demand.basis === "bound" && used ? (demand.at === "least" ? used.bound_low : used.bound_high) : null;
  const every = [
    line,
    ...(used?.values ?? []),
    ...(used?.unbroken ?? []),
    ...(used?.ci ?? []),
    ...(used?.value != null ? [used.value] : []),
    ...(bound != null ? [bound] : []),
  ];
  const low = Math.min(...every);
  const high = Math.max(...every);
  const pad = 0.08 * (high - low) || Math.abs(high) * 0.1 || 1;
  const x = scaleLinear([low - pad, high + pad], [4, WIDTH - 4]);
  const middle = small ? 16 : 26;
  const tall = small ? 32 : HEIGHT;
  const [goodFrom, goodTo] = demand.at === "least" ? [x(line), WIDTH - 4] : [4, x(line)];
  const words = `${SIDE[demand.at]} ${asTyped(line, judged.unit)} ${signOfUnit(judged.unit)}`;
  // A word is about this wide: the drawing is small, and the words must stay inside it.
  const half = 3.9 * words.length;
  return (
    <svg
      className="demand-plot"
      viewBox={`0 0 ${WIDTH} ${tall}`}
      role="img"
      aria-label={`${judged.name}: ${judged.status}. ${judged.words}`}
    >
      <rect className="good" x={goodFrom} width={Math.max(goodTo - goodFrom, 0)} y={middle - 12} height={24} />
      <line className="axis" x1={4} x2={WIDTH - 4} y1={middle} y2={middle} />
      {used?.ci && <line className="interval" x1={x(used.ci[0])} x2={x(used.ci[1])} y1={middle} y2={middle} />}
      {used?.values.map((value, index) => (
        <circle key={index} className="dot" cx={x(value)} cy={middle + ((index % 3) - 1) * 4} r={3.4} />
      ))}
      {used?.unbroken.map((value, index) => (
        <circle key={`u${index}`} className="dot hollow" cx={x(value)} cy={middle + ((index % 3) - 1) * 4} r={3.4} />
      ))}
      {used?.value != null && <path className="centre" d={`M ${x(used.value)} ${middle - 8} l 5 8 l -5 8 l -5 -8 z`} />}
      {bound != null && <line className="bound" x1={x(bound)} x2={x(bound)} y1={middle - 10} y2={middle + 10} />}
      <line className="limit" x1={x(line)} x2={x(line)} y1={middle - 14} y2={middle + 14} />
      {!small && (
        <text x={Math.min(Math.max(x(line), half), WIDTH - half)} y={HEIGHT - 6} textAnchor="middle">
          {words}
        </text>
      )}
    </svg>
  );
}
