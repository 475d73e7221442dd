/** A long list from the API, newest first, asked for a page at a time. */
import { type InfiniteData, useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import type { ApiError } from "./client";

const PAGE = 50;

/** Rows of a list, and how many there are in all; of very long lists, that there are more than were counted. */
type Page<Row> = { items: Row[]; total: number; and_more?: boolean };

/** `ask` fetches the rows before a place in the list; `placeOf` says where a row stands. The rows come as one list. */
export function usePages<Row>(
  key: unknown[],
  ask: (query: { before: string; limit: number }) => Promise<Page<Row>>,
  placeOf: (row: Row) => string,
) {
  const list = useInfiniteQuery<Page<Row>, ApiError, Row[], unknown[], string>({
    queryKey: key,
    queryFn: ({ pageParam }) => ask({ before: pageParam, limit: PAGE }),
    initialPageParam: "",
    getNextPageParam: ({ items }) => {
      const last = items.at(-1);
      return last && items.length === PAGE ? placeOf(last) : undefined;
    },
    select: ({ pages }) => pages.flatMap((page) => page.items),
  });
  const newest = useQueryClient().getQueryData<InfiniteData<Page<Row>>>(key)?.pages[0];
  return { ...list, total: newest?.total, andMore: newest?.and_more };
}
