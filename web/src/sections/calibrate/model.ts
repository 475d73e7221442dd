import type { Schemas } from "../../shared/api/client";

export type Calibration = Schemas["CalibrationView"];
export type Arm = Schemas["ArmView"];

export type Step = "range" | "refine" | "decide" | "issue";
export const STEPS: { path: Step; name: string }[] = [
  { path: "range", name: "Range" },
  { path: "refine", name: "Refine" },
  { path: "decide", name: "Decide" },
  { path: "issue", name: "Issue" },
];

export const KIND_NAMES: Record<string, string> = { flat: "flat coupon", support: "support coupon" };
