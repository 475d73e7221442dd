import { millilitres } from "../format";
import "./vat.scss";

export type VatLayer = { name: string; volume_ml: number };
type Props = {
  capacity: number;
  fillLine: number;
  layers: VatLayer[];
  pours?: VatLayer[];
  drain?: number;
  name: string;
};

const HEIGHT = 240;
const WIDTH = 150;
const TOP = 18;

/** A vat to scale: the heel by component from the bottom, what is to be poured hatched on top, the fill line across. */
export function VatDrawing({ capacity, fillLine, layers, pours = [], drain = 0, name }: Props) {
  const scale = HEIGHT / capacity;
  const total = layers.reduce((sum, one) => sum + one.volume_ml, 0);
  const kept = total > 0 ? (total - drain) / total : 0;
  const stack = [
    ...layers.map((one) => ({ ...one, volume_ml: one.volume_ml * kept, pour: false })),
    ...pours.map((one) => ({ ...one, pour: true })),
  ].filter((one) => one.volume_ml > 0.05);
  const names = [...new Set([...layers, ...pours].map((one) => one.name))];
  let level = 0;
  const drawn = stack.map((one) => {
    const low = level;
    level += one.volume_ml;
    return { ...one, low, high: level };
  });
  const y = (ml: number) => TOP + HEIGHT - Math.min(ml, capacity) * scale;
  // Words of thin layers keep their distance.
  let last = Infinity;
  const lines = drawn.map((one) => {
    last = Math.min(y((one.low + one.high) / 2) + 5, last - 42);
    return { ...one, wordsAt: last };
  });
  const words = drawn.map((one) => `${one.pour ? "pour " : ""}${millilitres(one.volume_ml)} ${one.name}`).join(", ");
  return (
    <svg
      className="vat-drawing"
      viewBox={`0 0 400 ${HEIGHT + TOP + 12}`}
      role="img"
      aria-label={`${name}: ${words || "empty"}; fill line at ${millilitres(fillLine)}${drain > 0.5 ? `; drain ${millilitres(drain)} first` : ""}`}
    >
      <defs>
        <pattern id="vat-pour" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="8" height="8" className="pour-ground" />
          <line x1="0" y1="0" x2="0" y2="8" className="pour-line" />
        </pattern>
      </defs>
      {lines.map((one) => (
        <g key={`${one.name}${one.pour}`}>
          <rect
            x={10}
            y={y(one.high)}
            width={WIDTH}
            height={Math.max(y(one.low) - y(one.high), 1)}
            className={one.pour ? "pour" : `layer layer-${names.indexOf(one.name) % 4}`}
          />
          <path
            className="lead"
            d={`M ${10 + WIDTH} ${(y(one.low) + y(one.high)) / 2} L ${WIDTH + 28} ${one.wordsAt - 5}`}
          />
          <text x={WIDTH + 34} y={one.wordsAt}>
            {one.pour ? "+ " : ""}
            {one.name}
          </text>
          <text className="soft num" x={WIDTH + 34} y={one.wordsAt + 18}>
            {millilitres(one.volume_ml)}
            {!one.pour && total > 0
              ? `, ${((100 * one.volume_ml) / (total * kept || 1)).toFixed(one.volume_ml / (total * kept || 1) < 0.1 ? 1 : 0)} %`
              : ""}
          </text>
        </g>
      ))}
      <path className="wall" d={`M 10 ${TOP} V ${TOP + HEIGHT} H ${10 + WIDTH} V ${TOP}`} />
      <line className="fill-line" x1={2} x2={WIDTH + 18} y1={y(fillLine)} y2={y(fillLine)} />
      <text className="soft fill-words" x={17} y={y(fillLine) - 6}>
        fill {millilitres(fillLine)}
      </text>
      {!drawn.length && (
        <text className="soft" x={WIDTH / 2 + 10} y={TOP + HEIGHT / 2 + 40} textAnchor="middle">
          empty
        </text>
      )}
    </svg>
  );
}
