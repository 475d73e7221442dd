import { exposure, THIN } from "../format";
import "./plate.scss";

export type Place = {
  exposure_s: number;
  x_mm: number;
  y_mm: number;
  width_mm: number;
  height_mm: number;
  code?: string;
  dose_ratio?: number | null;
};
type Props = {
  width_mm: number;
  height_mm: number;
  places: Place[];
  keepOff?: [number, number, number, number][];
  step?: number;
  /** Only the part where coupons lie. */ crop?: boolean;
};

/** A plate from above: which exposure lies where, with the light of each place where it is known. */
export function PlateDrawing({ width_mm, height_mm, places, keepOff = [], step = 0.01, crop }: Props) {
  const [w, h] = [places[0]?.width_mm ?? 10, places[0]?.height_mm ?? 10];
  const font = Math.min(h / 3.4, w / 5);
  const left = crop ? Math.min(...places.map((place) => place.x_mm)) - 3 : 0;
  const top = crop ? Math.min(...places.map((place) => place.y_mm)) - 3 : 0;
  const [across, down] = crop
    ? [width_mm - 2 * left, Math.max(...places.map((place) => place.y_mm)) + h + 3 - top]
    : [width_mm, height_mm];
  const marks = keepOff.length ? `, ${keepOff.length} known marks` : "";
  return (
    <svg
      className="plate-drawing"
      viewBox={`${left - 1} ${top - 1} ${across + 2} ${down + 2}`}
      role="img"
      aria-label={`Plate with ${places.length} coupons${marks}`}
    >
      <rect className="bed" width={width_mm} height={height_mm} rx={2} />
      {keepOff.map(([x, y, wide, high]) => (
        <rect key={`${x} ${y}`} className="keep-off" x={x} y={y} width={wide} height={high}>
          <title>A known mark: coupons keep off it</title>
        </rect>
      ))}
      {places.map((place) => {
        const second =
          place.code ?? (place.dose_ratio != null ? `${(100 * place.dose_ratio).toFixed(0)}${THIN}%` : null);
        return (
          <g key={`${place.x_mm} ${place.y_mm}`}>
            <rect
              className="place"
              x={place.x_mm}
              y={place.y_mm}
              width={place.width_mm}
              height={place.height_mm}
              rx={0.6}
            />
            <text x={place.x_mm + w / 2} y={place.y_mm + h * (second ? 0.5 : 0.62)} textAnchor="middle" fontSize={font}>
              {exposure(place.exposure_s, step)}
              {THIN}s
            </text>
            {second && (
              <text
                className="code"
                x={place.x_mm + w / 2}
                y={place.y_mm + h * 0.82}
                textAnchor="middle"
                fontSize={font * 0.7}
              >
                {second}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
