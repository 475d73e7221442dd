import { duration, exposure, millilitres, plural, THIN } from "../../../shared/format";
import { PlateDrawing } from "../../../shared/plate/PlateDrawing";
import { Notices } from "../Notices";
import type { Quote } from "./plan";

/** What a plan tells, where it lies, and what it costs. */
export function QuoteCard({ quote, step }: { quote: Quote | undefined; step: number }) {
  if (!quote) return null;
  return (
    <div className="mt-3">
      <p className="mb-1">
        <b>Tells:</b> {quote.tells} <b>Does not tell:</b> {quote.does_not_tell}
      </p>
      {quote.plate ? (
        <>
          <PlateDrawing
            width_mm={quote.plate.width_mm}
            height_mm={quote.plate.height_mm}
            places={quote.plate.places}
            keepOff={quote.plate.keep_off}
            step={step}
            crop={quote.way === "strip"}
          />
          <p className="small text-secondary mb-1">
            {quote.way === "strip"
              ? `${plural(quote.plate.places.length, "area")} in one row, rising along the arrow.`
              : `${plural(quote.plate.places.length, "coupon")}${quote.plate.repeats > 1 ? `, each exposure ${quote.plate.repeats} times` : ""}, shuffled${quote.plate.mapped ? "; percent is the light of the place, by the plate map" : ""}.`}
          </p>
        </>
      ) : (
        <table className="w-100" aria-label="What it costs">
          <tbody>
            {quote.coupons.map((coupon) => (
              <tr key={coupon.exposure_s}>
                <td className="num">
                  {exposure(coupon.exposure_s, step)}
                  {THIN}s
                </td>
                <td className="num text-end">{duration(coupon.duration_s ?? 0)}</td>
                <td className="num text-end">{millilitres(coupon.volume_ml)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Notices notices={quote.warnings} />
    </div>
  );
}

export function planWords(quote: Quote | undefined): string {
  if (!quote) return "Plan";
  const what = quote.way === "strip" ? plural(quote.coupons.length, "area") : plural(quote.coupons.length, "coupon");
  return `Plan ${what} · ${duration(quote.duration_s)} · ${millilitres(quote.volume_ml)}`;
}
