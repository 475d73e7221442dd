import type { Schemas } from "../../shared/api/client";

export type Coupon = Schemas["CouponView"];
