/** A change that needs a person first asks them, then goes on: who is working, or for the password of a signature. */
export type Question = "who" | "password";
let ask: ((question: Question) => Promise<boolean>) | null = null;

/** The app's way to ask; null when it is gone. */
export function askWith(way: ((question: Question) => Promise<boolean>) | null): void {
  ask = way;
}

/** Whether the person answered. */
export const askPerson = (question: Question): Promise<boolean> => ask?.(question) ?? Promise.resolve(false);
