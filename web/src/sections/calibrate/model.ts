import type { Schemas } from "../../shared/api/client";

export type Calibration = Schemas["CalibrationView"];
export type Arm = Schemas["ArmView"];

export type Step = "depth" | "first-layer" | "range" | "refine" | "decide" | "confirm" | "issue";
export const STEPS: { path: Step; name: string }[] = [
  { path: "depth", name: "Depth" },
  { path: "first-layer", name: "First layer" },
  { path: "range", name: "Range" },
  { path: "refine", name: "Refine" },
  { path: "decide", name: "Decide" },
  { path: "confirm", name: "Confirm" },
  { path: "issue", name: "Issue" },
];

export const KIND_NAMES: Record<string, string> = {
  flat: "flat coupon",
  support: "support coupon",
  "z-bridge": "Z bridge",
  grid: "plate grid",
  strip: "dose strip",
  own: "coupon of your own",
} satisfies Record<Schemas["PlanInput"]["kind"], string>;
