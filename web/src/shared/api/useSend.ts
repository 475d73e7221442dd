import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { askPerson, type Question } from "./askPerson";
import { unreadableHere } from "../fields/unreadable";
import { answerOf, ApiError, sendAgain, whatWasSent } from "./client";
import { inTurn } from "./inTurn";
import { refresh } from "./refresh";
import { takeTouched } from "./touched";
import { canWait, keepEntry, saidIn, sendAll, somethingWaits, withFields } from "../outbox/outbox";

/** One turn of the event loop: what was fetched is on screen, and the next change is made from it. */
const drawn = () => new Promise((resolve) => setTimeout(resolve));

/** What the server wants of the person before it takes a change. */
function wanted(error: unknown): Question | null {
  if (!(error instanceof ApiError)) return null;
  if (error.status === 401 || error.fields.technician) return { is: "who" };
  return error.fields.confirmation ? { is: "password" } : null;
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

/** Over what somebody else saved meanwhile, if the person wants that after seeing both; else the error goes on. */
async function over<Output>(error: unknown, key: string): Promise<Output> {
  const sent = error instanceof ApiError ? error.sent : undefined;
  if (!(error instanceof ApiError) || !error.over || !sent) throw error;
  const reason = saidIn(sent)?.reason;
  const reply = await askPerson({ is: "version", error, wantsReason: reason === null || reason === "" });
  if (!reply) throw error;
  const fields = { ...error.over, ...(typeof reply === "string" && { reason: reply }) };
  try {
    const again = withFields(sent, fields);
    return await named(async () => answerOf<Output>(await sendAgain(again, key), again));
  } catch (next) {
    // Changed once more, while the person compared.
    return over<Output>(next, key);
  }
}

/** How an entry is sent later where the server cannot be reached. */
export type Waits<Input> = {
  /** What it is, for the list of what waits. */
  words: (input: Input) => string;
  /** It is kept in this browser: the page may go on. */
  onKept?: (input: Input) => void;
};
const KEPT = Symbol("kept until the server can be reached");

/**
 * Sends a change once: the key stays the same until an answer comes, so a double tap or a retry after a lost
 * connection gets the first answer instead of a second object. What `waits` goes to the outbox of this browser while the server
 * cannot be reached. `compares`: the page shows both versions of a stale edit itself.
 */
export function useSend<Input, Output>(
  send: (input: Input, headers: Record<string, string>) => Promise<Output>,
  onDone?: (output: Output, input: Input) => void,
  { waits, compares = false }: { waits?: Waits<Input>; compares?: boolean } = {},
) {
  const key = useRef(crypto.randomUUID());
  // A change that had to wait is sent with what is on screen by then.
  const latest = useRef(send);
  latest.current = send;
  const queries = useQueryClient();
  /** Once what was entered before is out; into the outbox where that is not so, or where the server does not answer. */
  const sendOrKeep = async (input: Input, mine: string): Promise<Output> => {
    const mayWait = waits && canWait() ? waits : null;
    if (mayWait && somethingWaits()) await sendAll();
    try {
      return await named(() => latest.current(input, { "Idempotency-Key": mine }));
    } catch (error) {
      const request = whatWasSent(mine);
      if (!mayWait || !request || !(error instanceof ApiError) || error.status !== 0) throw error;
      await keepEntry(mine, request, mayWait.words(input));
      // Told apart from an answer below, before anybody reads it.
      return KEPT as Output;
    }
  };
  return useMutation<Output, ApiError, Input>({
    // Without a network it fails at once and is kept, where others wait in the tab.
    ...(waits && canWait() && { networkMode: "always" }),
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
        const output = await sendOrKeep(input, mine).catch((error: unknown) => {
          if (compares) throw error;
          return over<Output>(error, mine);
        });
        key.current = crypto.randomUUID();
        // What is on screen is fresh before anything closes: a second tap must not meet the state of before.
        await refresh(queries, takeTouched());
        await drawn();
        return output;
      });
    },
    onSuccess: (output, input) => {
      if (output === KEPT) waits?.onKept?.(input);
      else onDone?.(output, input);
    },
    onError: (error) => {
      // The server answered, so nothing was kept under this key; only a lost answer must be asked for again.
      if (error.status !== 0) key.current = crypto.randomUUID();
    },
  });
}
