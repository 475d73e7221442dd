import { type Schemas } from "./api/client";
import { useGet } from "./api/useGet";

export type Standing = Schemas["MaterialStanding"];
export type StandingSet = Schemas["SetStanding"] & { material: string };

/** Materials with their issued sets. */
export const useStanding = () => useGet("/api/test-materials", {}, { select: (answer) => answer.items });

/** The issued sets among these materials, each with the name of its material; of one printer where that is given. */
export function setsOf(materials: Standing[], printer?: string): StandingSet[] {
  const all = materials.flatMap((one) => one.sets.map((held) => ({ ...held, material: one.name })));
  return printer === undefined ? all : all.filter((one) => one.printer_id === printer);
}
