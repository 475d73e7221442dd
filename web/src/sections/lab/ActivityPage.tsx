import { useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { body, GET, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { EmptyState } from "../../shared/EmptyState";
import { clockTime, day, moment } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { LabTabs } from "./LabTabs";
import "./lab.scss";

type Activity = Schemas["Activity"];
type Done = Schemas["DoneView"];

const PLACE = "setback.was-here";

/** When this browser last looked at what changed; from then on is what is new. */
function useLastHere(): string | null {
  const [last] = useState(() => localStorage.getItem(PLACE));
  useEffect(() => {
    const now = new Date().toISOString();
    return () => localStorage.setItem(PLACE, now);
  }, []);
  return last;
}

/** What was done, by day and person: for whoever was away. */
export default function ActivityPage() {
  const [search, setSearch] = useSearchParams();
  const last = useLastHere();
  const asked = Object.fromEntries(
    ["kind", "by", "material", "printer", "set_code", "since"].flatMap((name) => {
      const value = search.get(name);
      return value ? [[name, value]] : [];
    }),
  );
  const pages = useInfiniteQuery<Activity, Error, { items: Done[]; kinds: Record<string, string> }, unknown[], string>({
    queryKey: ["/api/activity", asked],
    queryFn: ({ pageParam }) =>
      body(GET("/api/activity", { params: { query: { ...asked, before: pageParam, limit: 60 } } })),
    initialPageParam: "",
    getNextPageParam: ({ next_before }) => next_before ?? undefined,
    select: ({ pages: all }) => ({ items: all.flatMap((page) => page.items), kinds: all[0]?.kinds ?? {} }),
  });
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
  return (
    <>
      <PageHead title="What changed" sub="what was done here, newest first" />
      <LabTabs />
      <Filters search={search} set={set} kinds={pages.data?.kinds ?? {}} last={last} />
      <Loaded query={pages}>
        {({ items }) =>
          items.length ? (
            <>
              {byDay(items).map(([on, rows]) => (
                <section key={on} className="panel activity" aria-label={on}>
                  <h2>{on}</h2>
                  <ol>
                    {rows.map((row) => (
                      <Line
                        key={`${row.kind} ${row.code} ${row.at}`}
                        row={row}
                        isNew={last !== null && row.at > last}
                      />
                    ))}
                  </ol>
                </section>
              ))}
              {pages.hasNextPage && (
                <Button variant="quiet" disabled={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
                  Show earlier ones
                </Button>
              )}
            </>
          ) : (
            <EmptyState
              purpose={
                search.size
                  ? "Nothing like this was done."
                  : "Every print, reading, set and signature stands here by day and person, so that nobody has to ask what happened."
              }
            >
              {search.size > 0 && (
                <Button variant="primary" onClick={() => setSearch({}, { replace: true })}>
                  Show all
                </Button>
              )}
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function Line({ row, isNew }: { row: Done; isNew: boolean }) {
  return (
    <li className={isNew ? "new" : undefined}>
      <span className="num text-secondary">{clockTime(row.at)}</span>
      <span className="num by">{row.by ?? ""}</span>
      <span>
        {row.what} {row.page ? <Link to={row.page}>{row.code}</Link> : row.code}
        {row.title && `: ${row.title}`}
        {row.detail && <span className="text-secondary"> · {row.detail}</span>}
        {isNew && <span className="visually-hidden"> (new)</span>}
      </span>
    </li>
  );
}

type FilterProps = {
  search: URLSearchParams;
  set: (name: string, value: string) => void;
  kinds: Record<string, string>;
  last: string | null;
};

/** Narrow the list down; what is chosen stands in the address. */
function Filters({ search, set, kinds, last }: FilterProps) {
  const people = useGet("/api/technicians", {}, { select: (answer) => answer.items });
  const printers = useGet(
    "/api/printers",
    { params: { query: { retired: true, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const materials = useGet("/api/climate-materials", {}, { select: (answer) => answer.items });
  const choices: [name: string, label: string, options: [string, string][]][] = [
    ["kind", "all work", Object.entries(kinds)],
    ["by", "everybody", (people.data ?? []).map((one) => [one.initials, one.initials])],
    ["material", "all materials", (materials.data ?? []).map((one) => [one.id, one.name])],
    ["printer", "all printers", (printers.data ?? []).map((one) => [one.id, one.name])],
  ];
  return (
    <div className="lab-filters no-print mb-3" role="group" aria-label="Filter">
      {choices.map(([name, all, options]) => (
        <Form.Select
          key={name}
          aria-label={all}
          value={search.get(name) ?? ""}
          onChange={(event) => set(name, event.target.value)}
        >
          <option value="">{all}</option>
          {options.map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </Form.Select>
      ))}
      {last && (
        <Form.Check
          id="since-last"
          label={`since I was last here, ${moment(last)}`}
          checked={search.has("since")}
          onChange={(event) => set("since", event.target.checked ? `${last.slice(0, 19)}Z` : "")}
        />
      )}
    </div>
  );
}

/** Rows under their days, in the order they come. */
function byDay(rows: Done[]): [string, Done[]][] {
  const days = new Map<string, Done[]>();
  for (const row of rows) days.set(day(row.at), [...(days.get(day(row.at)) ?? []), row]);
  return [...days];
}
