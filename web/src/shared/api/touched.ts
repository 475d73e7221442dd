/**
 * What an answer was read from, and what a change has written, as the server says it with each of them. Unknown counts
 * as everything.
 */
import type { Query } from "@tanstack/react-query";

const readFrom = new Map<string, Set<string>>();
let written: Set<string> | "everything" = new Set();

const tablesIn = (response: Response, header: string) => {
  const names = response.headers.get(header);
  return names === null ? null : new Set(names.split(" ").filter(Boolean));
};

/** What the kept answer of a query was read from. */
export function noteRead(queryHash: string, response: Response): void {
  const tables = tablesIn(response, "Setback-Read");
  if (tables) readFrom.set(queryHash, tables);
  else readFrom.delete(queryHash);
}

/** What a change has written, until `takeTouched` asks; one that was refused wrote nothing. */
export function noteWritten(response: Response): void {
  if (!response.ok) return;
  const tables = tablesIn(response, "Setback-Written");
  if (!tables) written = "everything";
  else if (written !== "everything") written = new Set([...written, ...tables]);
}

/** Which kept answers were read from one of these tables; all of them where nobody knows. */
export function readFromAny(tables: readonly string[] | null): (query: Query) => boolean {
  if (!tables) return () => true;
  return (query) => {
    const read = readFrom.get(query.queryHash);
    return !read || tables.some((table) => read.has(table));
  };
}

/** Which kept answers are old after the changes noted so far; these count as dealt with. */
export function takeTouched(): (query: Query) => boolean {
  const tables = written;
  written = new Set();
  return readFromAny(tables === "everything" ? null : [...tables]);
}
