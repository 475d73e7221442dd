import { body, POST } from "../api/client";
import { SheetDialog } from "./SheetDialog";

/** Readings of a calibration's coupons from a spreadsheet. */
export function CouponSheet({
  calibration,
  onClose,
}: {
  calibration: { id: string; code: string };
  onClose: () => void;
}) {
  return (
    <SheetDialog
      title={`Readings of ${calibration.code}`}
      what="one row for each coupon and a column for each feature, or one row for each feature"
      template={`/api/calibrations/${calibration.id}/sheet-template`}
      send={(request, headers) =>
        body(
          POST("/api/calibrations/{calibration_id}/sheet", {
            params: { path: { calibration_id: calibration.id } },
            body: request,
            headers,
          }),
        )
      }
      onClose={onClose}
    />
  );
}
