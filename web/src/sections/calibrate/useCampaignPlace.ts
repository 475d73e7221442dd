import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { POLICY_NAMES, type Policy } from "../../shared/format";
import { STEPS, type Arm, type Calibration, type Step } from "./model";

/** Where in a campaign one stands, as the address says it: arm, step, policy, and the exposure chosen. */
export function useCampaignPlace(calibration: Calibration) {
  const [search, setSearch] = useSearchParams();
  const arm = calibration.arms.find((one) => String(one.number) === search.get("arm")) ?? furthest(calibration.arms);
  const step = (STEPS.find((one) => one.path === search.get("step"))?.path ?? stepOf(arm.stage)) as Step;
  const policies = arm.window?.policies ?? null;
  const asked = search.get("policy") ?? "size-true";
  // A policy that has no exposure falls back on the centre.
  const wanted: Policy = isPolicy(asked) && policies?.[asked] != null ? asked : "centre";
  const offered = policies?.[wanted] ?? null;
  const [byHand, setByHand] = useChosenByHand(search, setSearch);
  // Without an offer only what was chosen by hand.
  const chosen = byHand ?? offered;

  function go(changes: Record<string, string | null>) {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(changes)) {
      if (value === null) next.delete(name);
      else next.set(name, value);
    }
    // A step or an arm is a place to come back to; the rest refines the place one is at.
    setSearch(next, { replace: !("step" in changes || "arm" in changes) });
  }
  function choose(at: number) {
    const [low, high] = arm.window?.ladder_s ?? [at, at];
    const inside = Math.min(Math.max(at, low), high);
    setByHand(Number(inside.toFixed(6)));
  }
  return {
    arm,
    step,
    chosen,
    choose,
    policy: wanted,
    /** What an issued set names as its reason: the policy, or an exposure moved away from it. */
    reasoned: offered !== null && chosen === offered ? wanted : ("own choice" as const),
    move: (steps: number) =>
      chosen !== null && choose(Math.round(chosen / calibration.exposure_step_s + steps) * calibration.exposure_step_s),
    toStep: (to: Step) => go({ step: to }),
    toArm: (number: number, anew = false) => {
      setByHand(null);
      go({ arm: String(number), at: null, policy: null, ...(anew ? { step: null } : {}) });
    },
    toPolicy: (name: Policy) => {
      setByHand(null);
      go({ policy: name, at: null });
    },
  };
}
const isPolicy = (name: string): name is Policy => name in POLICY_NAMES;

export type CampaignPlace = ReturnType<typeof useCampaignPlace>;

/** The exposure moved by hand: at once on screen, in the address when the hand rests, so that no key press is lost. */
function useChosenByHand(
  search: URLSearchParams,
  setSearch: (next: URLSearchParams, options: { replace: boolean }) => void,
) {
  const inAddress = search.get("at");
  const [byHand, setByHand] = useState<number | null>(inAddress ? Number(inAddress) : null);
  useEffect(() => {
    if (byHand === null || String(byHand) === inAddress) return;
    const timer = setTimeout(() => {
      // From the address as it is by now: a step taken meanwhile must not be taken back.
      const next = new URLSearchParams(window.location.search);
      next.set("at", String(byHand));
      setSearch(next, { replace: true });
    }, 250);
    return () => clearTimeout(timer);
  }, [byHand, inAddress, search, setSearch]);
  return [byHand, setByHand] as const;
}

function furthest(arms: Arm[]): Arm {
  const order = ["range", "refine", "decide", "issued"];
  return arms.reduce((best, one) => (order.indexOf(one.stage) > order.indexOf(best.stage) ? one : best));
}

function stepOf(stage: Arm["stage"]): Step {
  return stage === "issued" ? "issue" : stage;
}
