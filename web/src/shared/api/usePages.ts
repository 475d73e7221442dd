/** A long list from the API, newest first, asked for a page at a time. */
import { useInfiniteQuery } from "@tanstack/react-query";
import type { ApiError } from "./client";

const PAGE = 50;

/** `ask` fetches the rows before a place in the list; `placeOf` says where a row stands. The rows come as one list. */
export function usePages<Row>(
  key: unknown[],
  ask: (query: { before: string; limit: number }) => Promise<{ items: Row[] }>,
  placeOf: (row: Row) => string,
) {
  return useInfiniteQuery<{ items: Row[] }, ApiError, Row[], unknown[], string>({
    queryKey: key,
    queryFn: ({ pageParam }) => ask({ before: pageParam, limit: PAGE }),
    initialPageParam: "",
    getNextPageParam: ({ items }) => {
      const last = items.at(-1);
      return last && items.length === PAGE ? placeOf(last) : undefined;
    },
    select: ({ pages }) => pages.flatMap((page) => page.items),
  });
}
