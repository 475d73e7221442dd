/**
 * What the API says, kept by its address and its parameters: no key is written by hand. With null for the parameters
 * nothing is asked yet.
 */
import { hashKey, type QueryClient, useQuery, type UseQueryOptions, type UseQueryResult } from "@tanstack/react-query";
import type { FetchResponse, MaybeOptionalInit } from "openapi-fetch";
import type { PathsWithMethod, RequiredKeysOf } from "openapi-typescript-helpers";
import { copyOf, keepCopy } from "../outbox/copies";
import { ApiError, body, GET } from "./client";
import type { paths } from "./schema";
import { noteRead } from "./touched";

type Path = PathsWithMethod<paths, "get">;
type Init<P extends Path> = MaybeOptionalInit<paths[P], "get">;
type Answer<P extends Path> = NonNullable<FetchResponse<paths[P]["get"], object, "application/json">["data"]>;
type Options<P extends Path, Selected> = Omit<UseQueryOptions<Answer<P>, ApiError, Selected>, "queryKey" | "queryFn">;

export function useGet<P extends Path, Selected = Answer<P>>(
  path: P,
  ...[init, options]: RequiredKeysOf<Init<P>> extends never
    ? [(Init<P> | null)?, Options<P, Selected>?]
    : [Init<P> | null, Options<P, Selected>?]
): UseQueryResult<Selected, ApiError> {
  return useQuery<Answer<P>, ApiError, Selected>({
    queryKey: [path, init],
    queryFn: ({ queryKey }) => answered<Answer<P>>(path, init, hashKey(queryKey)),
    // Without a network it fails at once, and what is kept is shown.
    networkMode: "always",
    ...options,
    ...(init === null && { enabled: false }),
  });
}

/** What the server answers; the copy of its last answer where it cannot be reached and one is kept. */
async function answered<Data>(path: Path, init: unknown, hash: string): Promise<Data> {
  try {
    // The client's own types cannot follow a path that is still a parameter.
    const data = await body(GET(path, init as never), (response) => noteRead(hash, response));
    void keepCopy(path, hash, data);
    return data as Data;
  } catch (error) {
    const copy = error instanceof ApiError && error.status === 0 ? await copyOf(hash) : null;
    if (!copy) throw error;
    return copy.data as Data;
  }
}

const FRESH_MS = 600_000;

/** Fetch an answer before it is needed, unless it was fetched lately. */
export function prefetch<P extends Path>(queries: QueryClient, path: P, init: Init<P>): Promise<void> {
  return queries.prefetchQuery({
    queryKey: [path, init],
    queryFn: ({ queryKey }) => answered(path, init, hashKey(queryKey)),
    staleTime: FRESH_MS,
    gcTime: FRESH_MS,
  });
}
