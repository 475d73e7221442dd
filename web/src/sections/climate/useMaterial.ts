import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { body, GET, type Schemas } from "../../shared/api/client";

export type Known = Schemas["KnownMaterial"];

/** Materials with how much is known of their climate; the best known one first to look at. */
export const useKnown = () =>
  useQuery({ queryKey: ["climate-materials"], queryFn: async () => (await body(GET("/api/climate-materials"))).items });

export const bestBy = (all: Known[], of: (one: Known) => number) => [...all].sort((a, b) => of(b) - of(a))[0];

/** The material a page is about, kept in its address. */
export function useMaterial(first: string | undefined): [string, (id: string) => void] {
  const [search, setSearch] = useSearchParams();
  return [search.get("material") ?? first ?? "", (id) => setSearch({ material: id }, { replace: true })];
}
