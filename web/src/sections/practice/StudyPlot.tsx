import { scaleLinear } from "d3-scale";
import { signed, THIN } from "../../shared/format";
import { YAxis } from "../../shared/plot/Axes";
import { PlotTable } from "../../shared/plot/PlotTable";
import { PlotTools } from "../../shared/plot/PlotTools";
import "../../shared/plot/plot.scss";
import { useWidth } from "../../shared/useWidth";
import type { Study } from "./studies";

const HEIGHT = 300;
const BOX = { left: 56, right: 16, top: 40, bottom: 34 };
/** Told apart by shape, not by colour. */
const SHAPES = [
  "M-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0",
  "M-5-5h10v10h-10z",
  "M0-6l6 11h-12z",
  "M0-7l6 7l-6 7l-6-7z",
  "M-5-5l10 10m0-10l-10 10",
];

/** Every reading of a study, coupon by coupon, each reader with a shape of their own. */
export function StudyPlot({ study }: { study: Study }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const values = study.cells.flatMap((cell) => cell.growths_um);
  const y = scaleLinear([Math.min(...values), Math.max(...values)], [HEIGHT - BOX.bottom, BOX.top]).nice();
  const room = (width - BOX.left - BOX.right) / Math.max(study.coupons.length, 1);
  const middle = (coupon: string) => BOX.left + room * (study.coupons.indexOf(coupon) + 0.5);
  const readers = study.readers.map((one) => one.name);
  const aside = (reader: string) =>
    (readers.indexOf(reader) - (readers.length - 1) / 2) * Math.min(14, room / (readers.length + 1));
  return (
    <figure className="study-plot" ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        role="img"
        aria-label={`Edge growth by coupon and reader, ${values.length} readings`}
      >
        <YAxis y={y} left={BOX.left} right={width - BOX.right} />
        <text className="soft" x={8} y={BOX.top - 22}>
          µm
        </text>
        {readers.map((reader, index) => (
          <g
            key={reader}
            transform={`translate(${BOX.left + 20 + index * Math.min(120, (width - BOX.left - 30) / readers.length)} ${BOX.top - 26})`}
          >
            <path className={`reader ${index % 2 ? "filled" : ""}`} d={SHAPES[index % SHAPES.length]} />
            <text x={12} y={5}>
              {reader}
            </text>
          </g>
        ))}
        {study.coupons.map((coupon) => (
          <text key={coupon} className="num" x={middle(coupon)} y={HEIGHT - 10} textAnchor="middle">
            {coupon}
          </text>
        ))}
        {study.cells.flatMap((cell) => {
          const index = readers.indexOf(cell.reader);
          return cell.growths_um.map((growth, repeat) => (
            <path
              key={`${cell.reader} ${cell.coupon} ${repeat}`}
              className={`reader ${index % 2 ? "filled" : ""}`}
              d={SHAPES[index % SHAPES.length]}
              transform={`translate(${middle(cell.coupon) + aside(cell.reader)} ${y(growth)})`}
            />
          ));
        })}
      </svg>
      <PlotTable
        name="Edge growth by coupon and reader"
        head={["coupon", "reader", `growth per edge, each reading, µm`]}
        rows={study.cells.map((cell) => [
          cell.coupon,
          cell.reader,
          cell.growths_um.map((growth) => signed(growth, 1)).join(`,${THIN}`),
        ])}
      />
      <PlotTools figure={ref} name={`Gauge study ${study.code}`} />
    </figure>
  );
}
