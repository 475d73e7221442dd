import { scaleLinear } from "d3-scale";
import { Fragment } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { SIDE, THIN, asTyped, inUnit } from "../../shared/format";
import { useWidth } from "../../shared/useWidth";
import { signOfUnit } from "../../shared/labForm";
import { ticksOf } from "../../shared/plot/Axes";

type Table = Schemas["PropertyTable"];
type Cell = Schemas["PropertyCell"];
type Limit = { property: string; at: "least" | "most"; limit: number };

/** Shape and colour of a material, in the order in which materials stand. */
const SHAPES = [
  "M-5-5H5V5H-5z",
  "M0-6 6 0 0 6-6 0z",
  "M-6 5H6L0-6z",
  "M0-5.5A5.5 5.5 0 1 1 0 5.5 5.5 5.5 0 0 1 0-5.5z",
  "M-6-5H6L0 6z",
  "M-2-6H2V-2H6V2H2V6H-2V2H-6V-2H-2z",
];
const COLOURS = ["var(--violet)", "var(--good)", "var(--over)", "var(--under)", "var(--caution)", "var(--bad)"];
/** After all shapes were used once they come again, each in another colour. */
const shapeOf = (at: number) => SHAPES[at % SHAPES.length];
const colourOf = (at: number) => COLOURS[(at + Math.floor(at / SHAPES.length)) % COLOURS.length];
const [LANE, TOP, FOOT, SIDE_PX] = [18, 8, 24, 12];

/** Each property on one axis: every material's value with its interval, and a brief's limits as lines. */
export function PropertyDots({ table, limits }: { table: Table; limits: Limit[] }) {
  const [box, width] = useWidth<HTMLDivElement>(900);
  const unfair = table.materials.some((one) => Object.values(one.cells).some((cell) => cell?.named));
  return (
    <div className="property-dots" ref={box}>
      <ul className="legend" aria-label="Materials">
        {table.materials.map((one, at) => (
          <li key={one.material_id}>
            <Mark at={at} /> {one.material}
          </li>
        ))}
      </ul>
      {table.columns.map((column) => (
        <Property
          key={column.key}
          column={column}
          table={table}
          width={Math.max(width - (width > 700 ? 260 : 0), 200)}
          limits={limits.filter((one) => one.property === column.key)}
        />
      ))}
      <p className="small text-secondary mb-0">
        Marks: the mean with its 95{THIN}% interval; the small tick is the tolerance bound, which 9 in 10 parts reach.
        {unfair && " Hollow: tried under other conditions than the rest, so not a fair comparison."}
      </p>
    </div>
  );
}

function Mark({ at, hollow = false }: { at: number; hollow?: boolean }) {
  const colour = colourOf(at);
  return (
    <svg width={16} height={16} viewBox="-8 -8 16 16" aria-hidden="true">
      <path d={shapeOf(at)} fill={hollow ? "var(--panel)" : colour} stroke={colour} strokeWidth={hollow ? 2 : 0} />
    </svg>
  );
}

type PropertyProps = { column: Table["columns"][number]; table: Table; width: number; limits: Limit[] };

function Property({ column, table, width, limits }: PropertyProps) {
  const navigate = useNavigate();
  const shown = table.materials.flatMap((material, at) => {
    const cell = material.cells[column.key];
    return cell ? [{ material, cell, at }] : [];
  });
  if (!shown.length) return null;
  const ends = shown.flatMap(({ cell }) => valuesOf(cell)).concat(limits.map((one) => one.limit));
  const height = TOP + shown.length * LANE + FOOT;
  const x = ends.length
    ? scaleLinear([Math.min(...ends), Math.max(...ends)], [SIDE_PX + 8, width - SIDE_PX - 8]).nice(4)
    : null;
  return (
    <section className="property-row" aria-label={`${column.name}, ${column.method_name}`}>
      <div>
        <b>{column.name}</b>
        <span className="small text-secondary d-block">
          {[column.method_name.toLowerCase(), signOfUnit(column.unit), `${column.better} is better`].join(", ")}
        </span>
        {column.mixed && <span className="small named d-block">{column.mixed}</span>}
      </div>
      <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="group" aria-label={column.name}>
        {x &&
          ticksOf(x, { count: 4, unit: column.unit }).map(({ at, text }) => (
            <g key={at} className="axis">
              <line x1={x(at)} x2={x(at)} y1={TOP} y2={height - FOOT} />
              <text x={x(at)} y={height - 8} textAnchor="middle">
                {text}
              </text>
            </g>
          ))}
        {x &&
          limits.map((one) => (
            <g key={`${one.at} ${one.limit}`} className="limit">
              <line x1={x(one.limit)} x2={x(one.limit)} y1={0} y2={height - FOOT + 4} />
              <text x={x(one.limit) + 4} y={TOP + 4}>
                {SIDE[one.at]} {asTyped(one.limit, column.unit)}
              </text>
            </g>
          ))}
        {shown.map(({ material, cell, at }, lane) => {
          const y = TOP + (lane + 0.5) * LANE;
          return (
            <a
              key={material.material_id}
              href={`/test/${cell.test_code}`}
              aria-label={`${material.material}: ${wordsOf(cell, column.unit)}`}
              onClick={(event) => {
                event.preventDefault();
                void navigate(`/test/${cell.test_code}`);
              }}
            >
              <title>
                {material.material}: {wordsOf(cell, column.unit)}
              </title>
              <Result cell={cell} at={at} x={x} y={y} />
            </a>
          );
        })}
      </svg>
    </section>
  );
}

type ResultProps = { cell: Cell; at: number; x: ((value: number) => number) | null; y: number };

/** One material's value in its lane: interval, bound and mark. */
function Result({ cell, at, x, y }: ResultProps) {
  const colour = colourOf(at);
  if (cell.value === null || !x)
    return (
      <text className="none" x={SIDE_PX} y={y + 5} fill={colour}>
        none broke
      </text>
    );
  return (
    <Fragment>
      {cell.ci && <line x1={x(cell.ci[0])} x2={x(cell.ci[1])} y1={y} y2={y} stroke={colour} strokeWidth={3} />}
      {cell.bound !== null && (
        <line x1={x(cell.bound)} x2={x(cell.bound)} y1={y - 5} y2={y + 5} stroke={colour} strokeWidth={2} />
      )}
      <g transform={`translate(${x(cell.value)} ${y})`}>
        <path
          d={shapeOf(at)}
          fill={cell.named ? "var(--panel)" : colour}
          stroke={colour}
          strokeWidth={cell.named ? 2 : 0}
        />
      </g>
    </Fragment>
  );
}

const valuesOf = (cell: Cell): number[] =>
  [cell.value, cell.bound, ...(cell.ci ?? [])].filter((value): value is number => value !== null);

function wordsOf(cell: Cell, unit: string): string {
  const [low, high] = (cell.ci ?? []).map((end) => inUnit(end, unit, cell.decimals));
  const ci = cell.ci && `, ${low} to ${high}`;
  const prints = cell.prints === 1 ? ", one print: of this print only" : "";
  const unfair = cell.named ? `, not a fair comparison: ${cell.named}` : "";
  return `${cell.value === null ? cell.words : inUnit(cell.value, unit, cell.decimals)}${ci ?? ""}, n = ${cell.n}${prints}${unfair}`;
}
