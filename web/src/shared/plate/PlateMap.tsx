import type { Schemas } from "../api/client";
import "./plate.scss";
import { decimal } from "../format";

const WORDS = { under: "too little", inside: "", over: "too much" } as const;

/** A map nobody measured yet has as many places as the grid coupon has bars. */
const UNMEASURED = 3;

type Props = {
  view: Schemas["PlateView"];
  /** Whether cells are judged by a window. */
  judged: boolean;
  /** Mark where an exposure is confirmed: the centre, and the place with the least light. */
  places?: boolean;
};

/** The plate from above: relative light per cell, which cells are outside a window, and known marks. */
export function PlateMap({ view, judged, places = false }: Props) {
  const { plate_x_mm: width, plate_y_mm: height, map, result } = view;
  const rows = map?.readings.length ?? UNMEASURED;
  const columns = map?.readings[0]?.length ?? UNMEASURED;
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
      {!map &&
        Array.from({ length: rows * columns }, (_, at) => {
          const [i, j] = [Math.floor(at / columns), at % columns];
          return (
            <g key={at} className="cell unmeasured">
              <rect x={j * w + 0.4} y={i * h + 0.4} width={w - 0.8} height={h - 0.8} rx={1} />
              <text
                className="word"
                x={(j + 0.5) * w}
                y={(i + 0.5) * h + font * 0.3}
                fontSize={font}
                textAnchor="middle"
              >
                ?
              </text>
            </g>
          );
        })}
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
                  {decimal(100 * dose, 0)} %
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
      {places && <Places view={view} font={font} />}
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

/** Where an exposure is confirmed; without a map any corner stands for the worst place. */
function Places({ view, font }: { view: Schemas["PlateView"]; font: number }) {
  const { plate_x_mm: width, plate_y_mm: height, map, result } = view;
  const [i, j] = result?.worst_cell ?? [0, 0];
  const [rows, columns] = [map?.readings.length ?? UNMEASURED, map?.readings[0]?.length ?? UNMEASURED];
  const marks = [
    { name: "centre", x: width / 2, y: height / 2 },
    {
      name: result ? "worst place" : "worst place, likely",
      x: ((j + 0.5) * width) / columns,
      y: ((i + 0.5) * height) / rows,
    },
  ];
  return marks.map(({ name, x, y }) => (
    <g key={name} className="confirm-place">
      <circle cx={x} cy={y} r={Math.min(width, height) / 7} />
      <text x={x} y={y + Math.min(width, height) / 7 + font * 0.9} fontSize={font * 0.8} textAnchor="middle">
        {name}
      </text>
    </g>
  ));
}
