import { useGet } from "../../shared/api/useGet";

export const useIngredients = () => useGet("/api/ingredients", {}, { select: (answer) => answer.items });
export const useBlends = () =>
  useGet("/api/blends", { params: { query: { after: "", limit: 200 } } }, { select: (answer) => answer.items });

/** What a vat can be filled with: resins, then blends. */
export function useTargets(): [string, string][] {
  const ingredients = useIngredients();
  const blends = useBlends();
  return [
    ...(ingredients.data ?? [])
      .filter((one) => one.kind === "resin")
      .map((one) => [one.id, one.name] as [string, string]),
    ...(blends.data ?? []).map((one) => [one.id, one.name] as [string, string]),
  ];
}
