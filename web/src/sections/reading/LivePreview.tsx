import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { body, POST, type Schemas } from "../../shared/api/client";
import { laneName, signed, THIN } from "../../shared/format";
import { markOf, StateMark } from "../../shared/StateMark";
import { ExposureStrip } from "../../shared/strip/ExposureStrip";
import type { Coupon } from "./model";
import { useGet } from "../../shared/api/useGet";

/** The verdict and the strip as they would be with what is entered so far. */
export function LivePreview({
  coupon,
  input,
  touched,
}: {
  coupon: Coupon;
  input: Schemas["ReadingInput"];
  touched: boolean;
}) {
  const settled = useSettled(input, 150);
  const preview = useQuery({
    queryKey: ["preview", coupon.code, settled],
    queryFn: () =>
      body(POST("/api/coupons/{id_or_code}/preview", { params: { path: { id_or_code: coupon.code } }, body: settled })),
    enabled: touched,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const calibration = useGet("/api/calibrations/{calibration_id}", {
    params: { path: { calibration_id: coupon.calibration_id } },
  });
  const held = calibration.data;
  const arm = held?.arms.find((one) => one.id === coupon.arm_id);
  if (!held || !arm) return null;
  const now = touched ? preview.data : undefined;
  const left = input.damaged || input.unwashed || input.uncured;
  const marks = arm.coupons.map((card) => ({
    code: card.code,
    kind: card.kind,
    exposure_s: card.exposure_s,
    mark:
      card.code !== coupon.code
        ? markOf(card)
        : left
          ? "left out"
          : now
            ? (now.verdict.verdict ?? "unjudged")
            : markOf(card),
  }));
  return (
    <section className="panel" aria-label="As it stands">
      <div className="verdict-now" aria-live="polite">
        {now ? (
          <>
            <StateMark name={now.verdict.verdict ?? "unjudged"} />
            <span>{why(now.verdict, (now.window ?? arm.window)?.lanes)}</span>
            {now.verdict.growth_um !== null && (
              <span className="num">
                growth {signed(now.verdict.growth_um)}
                {THIN}µm
              </span>
            )}
          </>
        ) : (
          <span className="text-secondary">The verdict appears with the first thing you mark.</span>
        )}
      </div>
      {now?.findings.map((finding) => (
        <p key={finding} className="caution">
          {finding}
        </p>
      ))}
      <ExposureStrip
        result={now?.window ?? arm.window}
        marks={marks}
        range={[held.low_s, held.high_s]}
        step={held.exposure_step_s}
        compact
      />
    </section>
  );
}

function why(verdict: Schemas["VerdictResult"], lanes: Schemas["WindowResult"]["lanes"] | undefined): string {
  const names = (criteria: string[]) => criteria.map((one) => laneName(lanes, one).toLowerCase()).join(" and ");
  const parts = [
    verdict.under.length ? `too little light by ${names(verdict.under)}` : "",
    verdict.over.length ? `too much by ${names(verdict.over)}` : "",
  ];
  return (
    parts.filter(Boolean).join("; ") ||
    (verdict.verdict === "ok" ? "every limit is met" : "nothing that has a limit is read")
  );
}

/** The value once it has stopped changing for a moment. */
function useSettled<T>(value: T, wait: number): T {
  const text = JSON.stringify(value);
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), wait);
    return () => clearTimeout(timer);
  }, [text, wait]);
  return JSON.parse(settled) as T;
}
