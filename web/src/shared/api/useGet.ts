/**
 * What the API says, kept by its address and its parameters: no key is written by hand. With null for the parameters
 * nothing is asked yet.
 */
import { hashKey, useQuery, type UseQueryOptions, type UseQueryResult } from "@tanstack/react-query";
import type { FetchResponse, MaybeOptionalInit } from "openapi-fetch";
import type { PathsWithMethod, RequiredKeysOf } from "openapi-typescript-helpers";
import { type ApiError, body, GET } from "./client";
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
    // The client's own types cannot follow a path that is still a parameter.
    queryFn: ({ queryKey }) =>
      body(GET(path, init as never), (response) => noteRead(hashKey(queryKey), response)) as Promise<Answer<P>>,
    ...options,
    ...(init === null && { enabled: false }),
  });
}
