import { useSearchParams } from "react-router";
import { type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";

export type Known = Schemas["KnownMaterial"];

/** Materials with how much is known of their climate; the best known one first to look at. */
export const useKnown = () => useGet("/api/climate-materials", {}, { select: (answer) => answer.items });

export const bestBy = (all: Known[], of: (one: Known) => number) => [...all].sort((a, b) => of(b) - of(a))[0];

/** The material a page is about, kept in its address. */
export function useMaterial(first: string | undefined): [string, (id: string) => void] {
  const [search, setSearch] = useSearchParams();
  return [search.get("material") ?? first ?? "", (id) => setSearch({ material: id }, { replace: true })];
}
