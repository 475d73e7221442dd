import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { exposure, THIN } from "../../shared/format";
import { markOf, StateMark } from "../../shared/StateMark";

/** Photos side by side in the order of exposure: doubtful coupons are settled by their neighbours. */
export function Photos({ coupons, step }: { coupons: Schemas["CouponCard"][]; step: number }) {
  const [open, setOpen] = useState(false);
  const shown = coupons.filter((coupon) => coupon.photo_ids.length);
  if (!shown.length) return null;
  return (
    <section className="mt-3" aria-label="Photos">
      <Button variant="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "Close the photos" : shown.length > 1 ? `View ${shown.length} photos` : "View photo"}
      </Button>
      {open && (
        <div className="photo-row">
          {shown.map((coupon) => (
            <figure key={coupon.id}>
              <Link to={`/coupons/${coupon.code}`}>
                <img
                  className="photo"
                  loading="lazy"
                  src={`/api/photos/${coupon.photo_ids.at(-1)}`}
                  alt={`Coupon ${coupon.code} at ${coupon.exposure_s} s`}
                />
              </Link>
              <figcaption>
                <span className="num">
                  {coupon.code} · {exposure(coupon.exposure_s, step)}
                  {THIN}s
                </span>
                <StateMark name={markOf(coupon)} />
              </figcaption>
            </figure>
          ))}
        </div>
      )}
    </section>
  );
}
