/** A phone keeps what is done at the bench: pages of open coupons, running prints and cards are fetched before they are needed. */
import { useEffect, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../shared/api/client";
import { prefetch } from "../../shared/api/useGet";
import { plural } from "../../shared/format";
import { keepsCopies } from "../../shared/outbox/copies";
import { isReached } from "../../shared/outbox/connection";

/** How many pages are kept; undefined where this browser keeps none. */
export function useKeptAtHand(hand: Schemas["AtHand"]): string | undefined {
  const queries = useQueryClient();
  const [kept, setKept] = useState(0);
  const codes = {
    coupons: hand.to_read.map((one) => one.code),
    prints: hand.running.map((one) => one.code),
    sets: hand.cards.map((one) => one.code),
    calibrations: [...new Set(hand.to_read.map((one) => one.calibration_id))],
  };
  const wanted = JSON.stringify(codes);
  useEffect(() => {
    if (!keepsCopies()) return;
    let isOver = false;
    async function fetchAll() {
      const { coupons, prints, sets, calibrations } = JSON.parse(wanted) as typeof codes;
      const steps = [
        () => prefetch(queries, "/api/file-limits", {}),
        () => prefetch(queries, "/api/print-symptoms", {}),
        ...coupons.map(
          (code) => () => prefetch(queries, "/api/coupons/{id_or_code}", { params: { path: { id_or_code: code } } }),
        ),
        ...prints.map(
          (code) => () => prefetch(queries, "/api/prints/{id_or_code}", { params: { path: { id_or_code: code } } }),
        ),
        ...sets.map(
          (code) => () => prefetch(queries, "/api/sets/{id_or_code}", { params: { path: { id_or_code: code } } }),
        ),
        ...calibrations.map(
          (id) => () =>
            prefetch(queries, "/api/calibrations/{calibration_id}", { params: { path: { calibration_id: id } } }),
        ),
      ];
      let count = 0;
      for (const step of steps) {
        // One after another: a person who taps meanwhile does not wait behind them.
        if (isOver || !isReached()) return;
        await step();
        count += 1;
      }
      if (!isOver) setKept(count);
    }
    void fetchAll();
    return () => {
      isOver = true;
    };
  }, [wanted, queries]);
  return kept > 0 ? `${plural(kept, "page")} kept here for when there is no connection` : undefined;
}
