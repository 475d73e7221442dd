import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { allFormed, CouponDrawing } from "../../shared/coupon/CouponDrawing";
import { EmptyState } from "../../shared/EmptyState";
import { millilitres, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ShelfTabs } from "../shelf/ShelfTabs";
import "../shelf/coupons.scss";

type Own = Schemas["OwnCouponView"];

/** Coupons that were there before Setback: described once, read into the same lanes. */
export default function OwnCouponsPage() {
  const own = useGet("/api/own-coupons", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Your own coupons" sub="What you printed before; believed a little less than Setback’s">
        <Link className="btn btn-primary" to="/shelf/coupons/own/new">
          Describe a coupon
        </Link>
      </PageHead>
      <div className="mb-3">
        <ShelfTabs here="coupons" />
      </div>
      <Loaded query={own}>
        {(items) =>
          items.length ? (
            <ul className="library" aria-label="Your own coupons">
              {items.map((one) => (
                <li key={one.code} className="panel">
                  <OwnCard own={one} />
                </li>
              ))}
            </ul>
          ) : (
            <EmptyState purpose="A coupon you already print and know is described here once: what is counted on it, what is measured. Its readings then enter the same lanes.">
              <Link className="btn btn-primary" to="/shelf/coupons/own/new">
                Describe a coupon
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function OwnCard({ own }: { own: Own }) {
  return (
    <article aria-label={own.name}>
      <h2>
        <Link to={`/shelf/coupons/own/${own.code}`}>{own.name}</Link>
      </h2>
      <div className="drawing">
        {own.has_photo ? (
          <img className="mw-100" src={`/api/own-coupons/${own.code}/photo`} alt={own.name} />
        ) : (
          <CouponDrawing plan={own.plan} states={allFormed(own.plan)} label={`What is read on ${own.name}`} />
        )}
      </div>
      <p className="small text-secondary mb-2">
        {own.code} · {own.thickness_mm}
        {THIN}mm high · {millilitres(own.volume_ml)} · {plural(own.plan.features.length, "feature")} ·{" "}
        {plural(own.coupons, "coupon")} planned
      </p>
      {own.note && <p className="mb-0">{own.note}</p>}
    </article>
  );
}
