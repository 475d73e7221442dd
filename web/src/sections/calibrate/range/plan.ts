import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useSay } from "../../../app/toasts";
import { type ApiError, body, POST, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import type { Arm } from "../model";

export type Quote = Schemas["Quote"];
export type Plan = Schemas["PlanInput"];
export type Kind = Plan["kind"];
export type Way = Plan["way"];

/** A plan of coupons that stand alone on the plate. */
export const alone = (kind: Kind, exposures_s: number[], is_repeat = false): Plan => ({
  kind,
  own_coupon: null,
  exposures_s,
  thickness_mm: null,
  is_repeat,
  way: "separate",
  repeats: null,
});

/** Plan coupons in an arm; the message offers to take the prints back. */
export function usePlan(arm: Arm, onDone?: () => void) {
  const say = useSay();
  const cancel = useSend((id: string) =>
    body(POST("/api/prints/{print_id}/cancel", { params: { path: { print_id: id } } })),
  );
  return useSend(
    (plan: Plan, headers) =>
      body(POST("/api/arms/{arm_id}/plan", { params: { path: { arm_id: arm.id } }, body: plan, headers })),
    (made) => {
      const strip = made.print_ids.length === 1 && made.coupons.length > 1;
      say(
        strip
          ? `Planned ${made.coupons.length} coupons in one print.`
          : `Planned ${made.coupons.join(", ")}. The code is embossed on the coupon.`,
        () => made.print_ids.forEach((id) => cancel.mutate(id)),
      );
      onDone?.();
    },
  );
}

export function useQuote(key: unknown[], ready: boolean, ask: () => Promise<Quote>) {
  return useQuery<Quote, ApiError>({
    queryKey: ["quote", ...key],
    queryFn: ask,
    enabled: ready,
    placeholderData: keepPreviousData,
    retry: false,
  });
}
