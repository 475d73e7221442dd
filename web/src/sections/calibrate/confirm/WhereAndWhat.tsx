import { Link } from "react-router";
import type { Schemas } from "../../../shared/api/client";
import { useGet } from "../../../shared/api/useGet";
import { CouponDrawing } from "../../../shared/coupon/CouponDrawing";
import { PlateMap } from "../../../shared/plate/PlateMap";
import type { Calibration } from "../model";

/** Before the first confirming print: where it goes on the plate, and what to print. */
export function WhereAndWhat({ calibration }: { calibration: Calibration }) {
  const plate = useGet("/api/printers/{printer_id}/plate", {
    params: { path: { printer_id: calibration.printer_id }, query: {} },
  }).data;
  const printer = useGet(
    "/api/printers",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items.find((one) => one.id === calibration.printer_id) },
  ).data;
  const support = useGet(
    "/api/coupon-drawing",
    printer ? { params: { query: supportOn(printer, calibration) } } : null,
  ).data;
  const files = `/shelf/coupons/support?printer=${calibration.printer_id}&layer=${calibration.layer_height_um}`;
  return (
    <div className="where-and-what">
      {plate && (
        <figure>
          <PlateMap view={plate} judged={false} places />
          <figcaption>
            {plate.result
              ? "The plate from above, with the light of each place: the centre and the darkest place are marked."
              : "The plate from above. No light map yet: the corners are where light is usually least."}{" "}
            <Link to={`/shelf/printers/${calibration.printer_id}/plate`}>
              {plate.result ? "See the map" : "Measure the light"}
            </Link>
          </figcaption>
        </figure>
      )}
      {support && (
        <figure>
          <CouponDrawing plan={support.plan} states={{}} label="Drawing of the support coupon" />
          <figcaption>
            The support coupon: tips from thin to thick, pulled as the supports of parts are.{" "}
            <Link to={files}>Files of the support coupon</Link>
          </figcaption>
        </figure>
      )}
    </div>
  );
}

function supportOn(printer: Schemas["Printer"], calibration: Calibration) {
  const settings = calibration.arms[0]?.settings;
  return {
    kind: "support",
    pixel_um: printer.pixel_um,
    layer_um: calibration.layer_height_um,
    base_layers: settings?.base_layers ?? 4,
    transition_layers: settings?.transition_layers ?? 3,
  };
}
