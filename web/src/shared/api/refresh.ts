import type { Query, QueryClient } from "@tanstack/react-query";

/**
 * Asks again for what is on screen, or for what of it a change touched. A first answer that is still on its way says what was before, and would count as
 * fresh when it comes: it is thrown away and asked for anew.
 */
export async function refresh(queries: QueryClient, predicate: (query: Query) => boolean = () => true): Promise<void> {
  await queries.cancelQueries({
    predicate: (query) => query.state.data === undefined && query.state.fetchStatus === "fetching" && predicate(query),
  });
  await queries.invalidateQueries({ predicate });
}
