import { day } from "../../shared/format";
import { Link } from "react-router";
import { StateMark } from "../../shared/StateMark";
import { useGet } from "../../shared/api/useGet";

/** What was signed on this set, and how it stands now. */
export function Qualified({ code }: { code: string }) {
  const query = useGet(
    "/api/sets/{id_or_code}/qualifications",
    { params: { path: { id_or_code: code } } },
    { select: (answer) => answer.items },
  );
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
