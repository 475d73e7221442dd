import { useState } from "react";
import Button from "react-bootstrap/Button";
import { LabelsDialog } from "../../shared/labels/LabelsDialog";
import { CouponSheet } from "../../shared/table/CouponSheet";
import { plural } from "../../shared/format";
import type { Arm, Calibration } from "./model";
import { PrintedDialog } from "./PrintedDialog";
import { PrintDialog } from "../../shared/coupon/VirtualPrint";

/** What is done with all coupons of an arm at once. */
export function TrayTools({ calibration, arm }: { calibration: Calibration; arm: Arm }) {
  const [open, setOpen] = useState<"labels" | "print" | "printed" | "sheet" | null>(null);
  const waiting = [
    ...new Set(
      arm.coupons
        .filter((card) => card.status === "planned" && !calibration.under_way[card.print_id])
        .map((card) => card.print_id),
    ),
  ];
  const first = arm.coupons.find((card) => card.print_id === waiting[0]);
  const plates = [
    ...new Map(
      arm.coupons
        .filter((card) => card.way !== "separate" && card.status === "planned")
        .map((card) => [card.print_id, card]),
    ).values(),
  ];
  const unread = arm.coupons.filter((card) => card.status !== "read").map((card) => card.code);
  const codes = unread.length ? unread : arm.coupons.map((card) => card.code);
  return (
    <div className="d-flex flex-wrap gap-2 mt-3 mb-2 no-print">
      {calibration.simulated && waiting.length > 1 && (
        <Button size="sm" onClick={() => setOpen("print")}>
          {waiting.length === arm.to_print.length
            ? `Print all ${waiting.length}`
            : `Print all ${waiting.length} plates`}
        </Button>
      )}
      {waiting.length > 1 && (
        <Button size="sm" variant="quiet" onClick={() => setOpen("printed")}>
          All {waiting.length} printed, same temperature…
        </Button>
      )}
      <Button size="sm" variant="quiet" onClick={() => setOpen("labels")}>
        Labels…
      </Button>
      <Button size="sm" variant="quiet" onClick={() => setOpen("sheet")}>
        Readings from CSV…
      </Button>
      {plates.map((card) => (
        <span key={card.print_id} className="d-flex gap-2">
          <a
            className="btn btn-quiet btn-sm d-inline-flex align-items-center"
            href={`/api/prints/${card.print_id}/file?format=masks`}
            download
          >
            {card.print_code}: masks
          </a>
          <a
            className="btn btn-quiet btn-sm d-inline-flex align-items-center"
            href={`/api/prints/${card.print_id}/file?format=svg`}
            download
          >
            {card.print_code}: plate drawing
          </a>
        </span>
      ))}
      {open === "print" && (
        <PrintDialog
          title={`Print ${plural(arm.to_print.length, "coupon")}`}
          prints={waiting}
          onClose={() => setOpen(null)}
        />
      )}
      {open === "printed" && first && (
        <PrintedDialog
          calibration={calibration}
          card={first}
          kin={[first]}
          together={waiting}
          onClose={() => setOpen(null)}
        />
      )}
      {open === "sheet" && <CouponSheet calibration={calibration} onClose={() => setOpen(null)} />}
      {open === "labels" && (
        <LabelsDialog
          title={`Labels for ${codes.length === 1 ? codes[0] : `${codes.length} coupons`}`}
          href={(paper) => `/api/labels/coupons?coupons=${codes.join(",")}&${paper}`}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}
