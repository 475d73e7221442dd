import { useQuery } from "@tanstack/react-query";
import { body, GET } from "../../shared/api/client";

export const useIngredients = () =>
  useQuery({ queryKey: ["ingredients"], queryFn: async () => (await body(GET("/api/ingredients"))).items });
export const useBlends = () =>
  useQuery({
    queryKey: ["blends"],
    queryFn: async () => (await body(GET("/api/blends", { params: { query: { after: "", limit: 200 } } }))).items,
  });

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
