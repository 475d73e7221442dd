import { useSearchParams } from "react-router";
import type { Outcome } from "./OutcomeMark";

export const FILTERS = ["printer", "material", "bottle", "set_code", "film", "outcome", "since", "until"] as const;
export type LogFilters = {
  printer: string | null;
  material: string | null;
  bottle: string | null;
  set_code: string | null;
  film: string | null;
  outcome: Outcome | null;
  since: string | null;
  until: string | null;
  parts: boolean;
  failed: boolean;
};

/** Which prints are shown: kept in the address, so that a link and the way back show the same. */
export function useLogFilters() {
  const [search, setSearch] = useSearchParams();
  const filters = {
    ...Object.fromEntries(FILTERS.map((name) => [name, search.get(name)])),
    parts: search.has("parts"),
    failed: search.has("failed"),
  } as LogFilters;
  const set = (name: keyof LogFilters, value: string | boolean | null) =>
    setSearch(
      (before) => {
        if (value === false || value === null || value === "") before.delete(name);
        else before.set(name, value === true ? "" : value);
        return before;
      },
      { replace: true },
    );
  const isAll = !filters.parts && !filters.failed && FILTERS.every((name) => filters[name] === null);
  return { filters, set, isAll, clear: () => setSearch({}, { replace: true }) };
}
