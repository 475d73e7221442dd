import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { askPerson, type Question } from "./askPerson";
import { unreadableHere } from "../fields/unreadable";
import { ApiError } from "./client";
import { inTurn } from "./inTurn";
import { refresh } from "./refresh";
import { takeTouched } from "./touched";

/** One turn of the event loop: what was fetched is on screen, and the next change is made from it. */
const drawn = () => new Promise((resolve) => setTimeout(resolve));

/** What the server wants of the person before it takes a change. */
function wanted(error: unknown): Question | null {
  if (!(error instanceof ApiError)) return null;
  if (error.status === 401 || error.fields.technician) return "who";
  return error.fields.confirmation ? "password" : null;
}

/** Sends; where the server wants something of the person, they are asked, and it is sent again. */
async function named<Output>(send: () => Promise<Output>): Promise<Output> {
  try {
    return await send();
  } catch (error) {
    const question = wanted(error);
    if (!question || !(await askPerson(question))) throw error;
    // A signature may be asked for both, one after the other.
    return named(send);
  }
}

/**
 * Sends a change once: the key stays the same until an answer comes, so a double tap or a retry after a lost
 * connection gets the first answer instead of a second object.
 */
export function useSend<Input, Output>(
  send: (input: Input, headers: Record<string, string>) => Promise<Output>,
  onDone?: (output: Output, input: Input) => void,
) {
  const key = useRef(crypto.randomUUID());
  // A change that had to wait is sent with what is on screen by then.
  const latest = useRef(send);
  latest.current = send;
  const queries = useQueryClient();
  return useMutation<Output, ApiError, Input>({
    mutationFn: (input) => {
      const unread = unreadableHere();
      if (unread) {
        unread.field.focus();
        return Promise.reject(
          new ApiError(422, `Nothing was saved: “${unread.field.value}” cannot be read. ${unread.problem}`),
        );
      }
      const mine = key.current;
      return inTurn(mine, async () => {
        const output = await named(() => latest.current(input, { "Idempotency-Key": mine }));
        key.current = crypto.randomUUID();
        // What is on screen is fresh before anything closes: a second tap must not meet the state of before.
        await refresh(queries, takeTouched());
        await drawn();
        return output;
      });
    },
    onSuccess: (output, input) => onDone?.(output, input),
    onError: (error) => {
      // The server answered, so nothing was kept under this key; only a lost answer must be asked for again.
      if (error.status !== 0) key.current = crypto.randomUUID();
    },
  });
}
