/**
 * A change that needs a person first asks them, then goes on: who is working, the password of a signature, or, where somebody
 * else changed it meanwhile, whether to save it all the same.
 */
import type { ApiError } from "./client";

export type Question =
  | { is: "who" }
  | { is: "password" }
  /** `wantsReason`: what is saved over evidence says why. */
  | { is: "version"; error: ApiError; wantsReason: boolean };
/** False where the person did not answer; a text is their reason. */
export type Reply = boolean | string;
let ask: ((question: Question) => Promise<Reply>) | null = null;

/** The app's way to ask; null when it is gone. */
export function askWith(way: ((question: Question) => Promise<Reply>) | null): void {
  ask = way;
}

/** What the person answered. */
export const askPerson = (question: Question): Promise<Reply> => ask?.(question) ?? Promise.resolve(false);
