/**
 * What can be chosen, by the value the API knows and the word on screen, in this order. Every value there is must have
 * its word: one that the API adds or drops fails to compile here.
 */
export const wordsOf = <Value extends string>(words: Record<Value, string>) =>
  Object.entries(words) as [Value, string][];
