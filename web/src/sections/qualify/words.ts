import type { Schemas } from "../../shared/api/client";

const BASES = { mean: "by the mean", bound: "by what nine parts in ten keep", every: "by every specimen" };

/** What a line of a brief asks, in words. */
export function asked(demand: Schemas["RequirementView"]): string {
  const parts = [`at ${demand.at} ${demand.limit} ${demand.unit}`.trim()];
  if (!demand.property.startsWith("set.")) parts.push(BASES[demand.basis]);
  if (demand.margin_pct) parts.push(`with ${demand.margin_pct} % margin`);
  if (demand.amount) parts.push(`for ${demand.amount} ml`);
  if (demand.conditions.length) parts.push(demand.conditions.map((one) => `${one.key.replaceAll("_", " ")} ${one.value}`).join(", "));
  return parts.join(", ");
}
