import Button from "react-bootstrap/Button";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Trouble } from "../../shared/Trouble";
import type { Coupon } from "./model";

/** Fills the form as a person with calipers would, error included; nothing is saved by it. */
export function SimulatedReader({
  coupon,
  onRead,
}: {
  coupon: Coupon;
  onRead: (features: Schemas["FeatureInput"][]) => void;
}) {
  const read = useSend(
    (_: null) =>
      body(
        POST("/api/coupons/{id_or_code}/virtual-reading", {
          params: { path: { id_or_code: coupon.code } },
          body: { caliper_sd_mm: 0.006, caliper_bias_mm: 0, seed: null },
        }),
      ),
    (seen) => onRead(seen.features),
  );
  return (
    <div className="mb-3">
      <p className="small text-secondary mb-1">
        A simulated coupon. {coupon.photos.length > 0 ? "Read it off its photo, or let" : "Let"} a simulated reader do
        it, with an error of about 6 µm with the calipers.
      </p>
      <Button size="sm" variant="quiet" disabled={read.isPending} onClick={() => read.mutate(null)}>
        Let the simulated reader fill it in
      </Button>
      <Trouble error={read.error} className="mt-2" />
    </div>
  );
}
