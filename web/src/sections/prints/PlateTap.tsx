import { millimetres, size } from "../../shared/format";
import "../../shared/plate/plate.scss";
import "../../shared/plate/plate.scss";

export type Placed = { name: string; x_mm: number | null; y_mm: number | null; printed: number; whole?: number | null };
type Props = {
  width_mm: number;
  height_mm: number;
  parts: Placed[];
  /** Which part the next tap places. */
  placing?: number;
  onPlace?: (part: number, x_mm: number, y_mm: number) => void;
  /** What a tap on a part's mark does. */
  onMark?: (part: number) => void;
};

/** The plate from above: a tap places a part, or marks one that stands there. */
export function PlateTap({ width_mm, height_mm, parts, placing, onPlace, onMark }: Props) {
  const r = Math.max(width_mm, height_mm) / 28;
  const placed = parts.flatMap(({ x_mm, y_mm, ...one }, at) =>
    x_mm === null || y_mm === null ? [] : [{ ...one, x_mm, y_mm, at }],
  );
  return (
    <svg
      className={`plate-drawing plate-tap ${onPlace ? "takes" : ""}`}
      viewBox={`-1 -1 ${width_mm + 2} ${height_mm + 2}`}
      role="group"
      aria-label={`Plate of ${millimetres(width_mm)} by ${millimetres(height_mm)}, ${placed.length} places`}
      onClick={(event) => {
        if (!onPlace || placing === undefined) return;
        const box = event.currentTarget.getBoundingClientRect();
        const x = ((event.clientX - box.left) / box.width) * (width_mm + 2) - 1;
        const y = height_mm - (((event.clientY - box.top) / box.height) * (height_mm + 2) - 1);
        const inside = (value: number, most: number) => Math.round(Math.min(Math.max(value, 0), most));
        onPlace(placing, inside(x, width_mm), inside(y, height_mm));
      }}
    >
      <rect className="bed" width={width_mm} height={height_mm} rx={2} />
      {placed.map((one) => {
        const failed = one.whole !== undefined && one.whole !== null && one.whole < one.printed;
        const label = `${one.name || `Part ${one.at + 1}`} at ${size(one.x_mm)}, ${millimetres(one.y_mm)}${failed ? ": failed" : ""}`;
        return (
          <g
            key={one.at}
            className={`spot ${failed ? "failed" : ""}`}
            transform={`translate(${one.x_mm} ${height_mm - one.y_mm})`}
            {...(onMark && {
              role: "button",
              tabIndex: 0,
              "aria-pressed": failed,
              "aria-label": label,
              onClick: () => onMark(one.at),
              onKeyDown: (event: React.KeyboardEvent) => {
                if (event.key === "Enter" || event.key === " ") onMark(one.at);
              },
            })}
          >
            <title>{label}</title>
            {failed ? (
              <path d={`M${-r} ${r * 0.8}h${2 * r}L0 ${-r}z`} />
            ) : (
              <rect x={-r * 0.8} y={-r * 0.8} width={r * 1.6} height={r * 1.6} />
            )}
            <text y={r * 0.45} textAnchor="middle" fontSize={r * 1.1}>
              {one.at + 1}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
