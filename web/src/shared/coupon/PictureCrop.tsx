import type { Background } from "./CouponDrawing";
import "./coupon.scss";

export type Box = [x: number, y: number, width: number, height: number];
type Props = {
  picture: Pick<Background, "href" | "marginMm">;
  plan: { width_mm: number; height_mm: number };
  /** What is shown, with room round it, mm. */
  place: Box;
  roomMm?: number;
  /** Something in it that a line is drawn round. */
  round?: Box | null;
  label: string;
};

/** A part of a coupon's straight picture, large. */
export function PictureCrop({ picture, plan, place, roomMm = 1.6, round, label }: Props) {
  const [x, y, width, height] = place;
  const { href, marginMm: margin } = picture;
  return (
    <svg
      className="picture-crop"
      viewBox={`${x - roomMm} ${y - roomMm} ${width + 2 * roomMm} ${height + 2 * roomMm}`}
      role="img"
      aria-label={label}
    >
      <image
        href={href}
        x={-margin}
        y={-margin}
        width={plan.width_mm + 2 * margin}
        height={plan.height_mm + 2 * margin}
      />
      {round && <rect className="round" x={round[0]} y={round[1]} width={round[2]} height={round[3]} rx={0.3} />}
    </svg>
  );
}

/** The box round several. */
export function around(boxes: Box[]): Box {
  const left = Math.min(...boxes.map(([x]) => x));
  const top = Math.min(...boxes.map(([, y]) => y));
  const right = Math.max(...boxes.map(([x, , width]) => x + width));
  const bottom = Math.max(...boxes.map(([, y, , height]) => y + height));
  return [left, top, right - left, bottom - top];
}
