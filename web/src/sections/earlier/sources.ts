import type { Schemas } from "../../shared/api/client";

/** Where settings in use may come from. */
export const SOURCES: [Schemas["ProvisionalInput"]["source"], string][] = [
  ["maker", "the maker"],
  ["other workshop", "another workshop"],
  ["own habit", "our own habit"],
];
