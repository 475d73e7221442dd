import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import type { ApiError } from "./client";

/**
 * Sends a change once: the key stays the same until an answer comes, so a double tap or a retry after a lost
 * connection gets the first answer instead of a second object.
 */
export function useSend<Input, Output>(
  send: (input: Input, headers: Record<string, string>) => Promise<Output>,
  onDone?: (output: Output, input: Input) => void,
) {
  const key = useRef(crypto.randomUUID());
  const queries = useQueryClient();
  return useMutation<Output, ApiError, Input>({
    mutationFn: (input) => send(input, { "Idempotency-Key": key.current }),
    onSuccess: async (output, input) => {
      key.current = crypto.randomUUID();
      // What is on screen is fresh before anything closes: a second tap must not meet the state of before.
      await queries.invalidateQueries();
      onDone?.(output, input);
    },
    onError: (error) => {
      // The server answered, so nothing was kept under this key; only a lost answer must be asked for again.
      if (error.status !== 0) key.current = crypto.randomUUID();
    },
  });
}
