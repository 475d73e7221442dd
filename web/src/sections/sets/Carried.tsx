import { Link } from "react-router";
import { useGet } from "../../shared/api/useGet";

/** What was in use before this set, and what it says of other layer heights, printers and powers. */
export function Carried({ code }: { code: string }) {
  const path = { params: { path: { set_code: code } } };
  const before = useGet("/api/sets/{set_code}/in-use-before", path, { select: (answer) => answer.items });
  const scaled = useGet("/api/sets/{set_code}/scaled", path, { select: (answer) => answer.items });
  return (
    <>
      {before.data && before.data.length > 0 && (
        <section className="panel mt-3 no-print" aria-label="In use before">
          <h2>In use before</h2>
          <ul className="plain-list mb-0">
            {before.data.map((one) => (
              <li key={one.provisional_code}>
                <Link to={`/shelf/in-use/${one.provisional_code}`}>{one.provisional_code}</Link>: {one.words}
              </li>
            ))}
          </ul>
        </section>
      )}
      {scaled.data && scaled.data.length > 0 && (
        <section className="panel mt-3 no-print" aria-label="Carried elsewhere">
          <h2>Carried elsewhere</h2>
          <ul className="plain-list mb-2">
            {scaled.data.map((one) => (
              <li key={one.target}>
                {one.words[0]?.toUpperCase()}
                {one.words.slice(1)}. <Link to={one.link}>Calibrate it</Link>
              </li>
            ))}
          </ul>
          <p className="small text-secondary mb-0">
            By all that was calibrated in this lab; four in five lie in brackets. An estimate, no set.
          </p>
        </section>
      )}
    </>
  );
}
