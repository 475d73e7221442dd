/** Where things are: the page of whatever has a code, and of what waits. */
import type { Schemas } from "./api/client";

export function placeOfFound(found: Schemas["Found"]): string {
  switch (found.kind) {
    case "coupon":
      return `/coupons/${found.code}`;
    case "calibration":
      return `/calibrate/${found.id}`;
    case "test":
      return `/test/${found.code}`;
    case "specimen":
      return `/test/${found.detail}/${found.code}`;
    case "brief":
      return "/test/briefs";
    case "set":
      return `/sets/${found.code}`;
    case "blend":
      return `/blend/recipes/${found.id}`;
    case "batch":
      return `/blend/batches/${found.code}`;
    case "series":
      return `/blend/series/${found.code}`;
    case "qualification":
      return `/qualify/records/${found.code}`;
    case "print":
    case "part":
      return `/log/${found.code}`;
    case "warm start":
      return `/climate/warm-start/${found.code}`;
    case "resin":
      return `/materials/${found.id}`;
    case "bottle":
      return `/bottles/${found.code}`;
    case "printer":
      return `/printers/${found.id}`;
    default:
      return `/shelf/finish-routes?edit=${found.id}`;
  }
}

export function placeOfTask(task: Schemas["Task"]): string {
  if (task.attention) return "/board?attention=1";
  if (task.kind === "start") return `/calibrate/new?material=${task.material_id}&printer=${task.printer_id}`;
  if (task.kind === "cold") return `/climate/warm-start?printer=${task.printer_id}`;
  if (task.print_code) return `/log/${task.print_code}/finish`;
  if (task.kind === "bottle")
    return task.bottle_code ? `/bottles/${task.bottle_code}` : `/materials/${task.material_id}`;
  if (task.printer_id) return `/blend/vat/${task.printer_id}`;
  if (task.test_code) return `/test/${task.test_code}`;
  if (task.set_code) return `/sets/${task.set_code}`;
  if (task.blind_id) return `/blind/${task.blind_id}`;
  return task.coupon_code ? `/coupons/${task.coupon_code}` : `/calibrate/${task.calibration_id}`;
}
