/** What the features of a coupon are called where they are typed or compared. */
import type { PlanFeature } from "../../shared/coupon/CouponDrawing";
import { size } from "../../shared/format";
import type { Row } from "./draft";

const KIND_ROWS: Record<Row["kind"], string> = { wall: "Walls standing", slot: "Slots open", tip: "Tips held" };

export const rowLabel = (row: Row): string => [KIND_ROWS[row.kind], rowSide(row)].filter(Boolean).join(", ");

function rowSide(row: Row): string {
  if (row.kind !== "tip") return row.side;
  return row.side === "left" ? "upper row" : "lower row";
}

export function caliperLabel(feature: PlanFeature): string {
  if (feature.kind === "z-gap") return `Clearance under bridge ${size(feature.size_mm)}`;
  // Bars of a grid lie at nine places: row and column on the plate, seen from above.
  const cell = /^outer-(\d)(\d)$/.exec(feature.key);
  if (cell) return `Bar ${size(feature.size_mm)}, row ${cell[1]} column ${cell[2]}`;
  return `${feature.kind === "outer" ? "Bar" : "Notch"} ${size(feature.size_mm)} along ${feature.axis?.toUpperCase()}`;
}
