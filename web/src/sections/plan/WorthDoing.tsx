import { Link } from "react-router";
import { useGet } from "../../shared/api/useGet";
import { duration, millilitres } from "../../shared/format";

/** What is not planned yet and would show most: the next coupon, a set that is due, evidence a brief lacks. */
export function WorthDoing() {
  const query = useGet("/api/plan/worth-doing", {}, { select: (answer) => answer.items, staleTime: 60_000 });
  if (query.isPending) return <p className="text-secondary no-print mb-0">Looking for what is worth doing…</p>;
  const rows = query.data;
  if (!rows?.length) return null;
  return (
    <section className="panel no-print" aria-label="Worth doing, where time is left">
      <h2>Worth doing, where time is left</h2>
      <ul className="plain-list">
        {rows.map((row) => (
          <li key={row.kind + row.link + row.words} className="mb-2">
            <Link to={row.link}>{row.words}</Link>
            {row.minutes !== null && row.ml !== null && (
              <span className="num">
                {" "}
                {duration(row.minutes * 60)}, {millilitres(row.ml)}
              </span>
            )}
            <span className="d-block text-secondary">{row.why}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
