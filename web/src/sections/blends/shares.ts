/** A line of a recipe as it is typed; without a percentage it takes what is missing to a hundred. */
export type Line = { material_id: string; percent: number | null };
type Part = { material_id: string; fraction: number };

/** What is typed, as parts: how many lines are open, what is left for one of them, and the fraction of each. */
export function sharesOf(lines: Line[]): { used: Line[]; open: number; rest: number; parts: Part[] } {
  const used = lines.filter((one) => one.material_id);
  const open = used.filter((one) => one.percent === null).length;
  const rest = 100 - used.reduce((sum, one) => sum + (one.percent ?? 0), 0);
  const parts = used.map((one) => ({
    material_id: one.material_id,
    fraction: Number((Math.max(one.percent ?? (open === 1 ? rest : 0), 0) / 100).toFixed(6)),
  }));
  return { used, open, rest, parts };
}

/** Two parts are called after the larger, with the smaller one's share; more have no name of their own. */
export function suggestedName(parts: Part[], nameOf: (id: string) => string): string {
  const [small, large, more] = parts.toSorted((one, other) => one.fraction - other.fraction);
  if (!small || !large || more) return "";
  return `${nameOf(large.material_id)} + ${Number((100 * small.fraction).toFixed(2))} % ${nameOf(small.material_id)}`;
}
