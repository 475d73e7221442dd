import type { Schemas } from "../../shared/api/client";

const WORDS = { under: "too little", inside: "", over: "too much" } as const;

/** The plate from above: relative light per cell, which cells are outside a window, and known marks. */
export function PlateMap({ view, judged }: { view: Schemas["PlateView"]; judged: boolean }) {
  const { plate_x_mm: width, plate_y_mm: height, map, result } = view;
  const rows = map?.readings.length ?? 1;
  const columns = map?.readings[0]?.length ?? 1;
  const [w, h] = [width / columns, height / rows];
  const font = Math.min(h / 5, w / 6.5, 6);
  return (
    <svg
      className="plate-map"
      viewBox={`-1 -1 ${width + 2} ${height + 2}`}
      role="img"
      aria-label={`Plate of ${view.printer}: ${map ? `${rows} by ${columns} readings` : "no map"}, ${view.defects.length} marks`}
    >
      <rect className="bed" width={width} height={height} rx={2} />
      {result &&
        map &&
        result.relative_dose.map((line, i) =>
          line.map((dose, j) => {
            const state = (judged && result.cells[i]?.[j]) || "inside";
            const here = map.reference_row === i && map.reference_column === j;
            return (
              <g key={`${i} ${j}`} className={`cell ${state}`}>
                <rect
                  x={j * w + 0.4}
                  y={i * h + 0.4}
                  width={w - 0.8}
                  height={h - 0.8}
                  rx={1}
                  style={{
                    fillOpacity: state === "inside" ? 0.15 + 0.7 * Math.min(Math.max((dose - 0.7) / 0.6, 0), 1) : 1,
                  }}
                />
                <text x={(j + 0.5) * w} y={(i + 0.5) * h + font * 0.1} fontSize={font} textAnchor="middle">
                  {(100 * dose).toFixed(0)} %
                </text>
                {judged && state !== "inside" && (
                  <text
                    className="word"
                    x={(j + 0.5) * w}
                    y={(i + 0.5) * h + font * 1.1}
                    fontSize={font * 0.75}
                    textAnchor="middle"
                  >
                    {WORDS[state]}
                  </text>
                )}
                {here && (
                  <text
                    className="word"
                    x={(j + 0.5) * w}
                    y={(i + 0.5) * h - font * 1.15}
                    fontSize={font * 0.62}
                    textAnchor="middle"
                  >
                    coupons stood here
                  </text>
                )}
              </g>
            );
          }),
        )}
      {view.defects.map((mark, index) => (
        <g key={mark.id} className="defect">
          <rect x={mark.x_mm} y={mark.y_mm} width={mark.width_mm} height={mark.height_mm} />
          <circle cx={mark.x_mm + mark.width_mm / 2} cy={mark.y_mm + mark.height_mm / 2} r={3} />
          <text
            x={mark.x_mm + mark.width_mm / 2}
            y={mark.y_mm + mark.height_mm / 2 + 1.5}
            fontSize={4.2}
            textAnchor="middle"
          >
            {index + 1}
          </text>
        </g>
      ))}
    </svg>
  );
}
