import { type Schemas } from "./api/client";
import { useGet } from "./api/useGet";

export type Standing = Schemas["MaterialStanding"];
export type StandingSet = Schemas["SetStanding"] & { material: string; material_id: string };

/** Materials with their issued sets. */
export const useStanding = () => useGet("/api/test-materials", {}, { select: (answer) => answer.items });

/** The issued sets among these materials, each with its material; of one printer where that is given. */
export function setsOf(materials: Standing[], printer?: string): StandingSet[] {
  const all = materials.flatMap((one) =>
    one.sets.map((held) => ({ ...held, material: one.name, material_id: one.id })),
  );
  return printer === undefined ? all : all.filter((one) => one.printer_id === printer);
}
