import type { Schemas } from "../../shared/api/client";

export type Coupon = Schemas["CouponView"];
export type Picture = NonNullable<Coupon["picture"]>;
