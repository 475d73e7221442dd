import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { body, GET } from "../../shared/api/client";
import { day } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";

/** What was signed on this set, and how it stands now. */
export function Qualified({ code }: { code: string }) {
  const query = useQuery({
    queryKey: ["set-qualifications", code],
    queryFn: async () =>
      (await body(GET("/api/sets/{id_or_code}/qualifications", { params: { path: { id_or_code: code } } }))).items,
  });
  if (!query.data) return null;
  return (
    <section className="panel mb-3 no-print" aria-label="Qualified for">
      <h2>Qualified for</h2>
      {query.data.length ? (
        <ul className="plain-list mb-0">
          {query.data.map((one) => (
            <li key={one.id}>
              <Link to={`/qualify/records/${one.code}`}>{one.brief}</Link> <StateMark name={one.state} />
              <small className="text-secondary">
                {" "}
                {one.code}, {one.initials}, {day(one.signed_at)}
              </small>
            </li>
          ))}
        </ul>
      ) : (
        <p className="mb-0 text-secondary">
          Nothing is signed on it yet. <Link to="/qualify">Hold it against a brief</Link>
        </p>
      )}
    </section>
  );
}
