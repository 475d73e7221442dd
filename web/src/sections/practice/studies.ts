import type { Schemas } from "../../shared/api/client";

export type Study = Schemas["StudyView"];
export type Turn = Schemas["TurnView"];

export const MEASURES: Record<"edges" | "plug", { name: string; what: string }> = {
  edges: { name: "Edge growth by calipers", what: "a bar and a notch of one size, two values a turn" },
  plug: { name: "Edge growth by the taper plug", what: "the step at which it stopped, one tap a turn" },
};
