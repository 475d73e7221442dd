import { Link } from "react-router";
import { useGet } from "../../shared/api/useGet";
import { duration, moment } from "../../shared/format";

/** Prints that were started: each waits to be told how it came out. */
export function RunningPrints() {
  const running = useGet("/api/prints/running", {}, { select: (answer) => answer.items });
  if (!running.data?.length) return null;
  return (
    <section className="panel running" aria-label="Running">
      <h2>Running</h2>
      <ul className="plain-list">
        {running.data.map((one) => (
          <li key={one.id}>
            <span>
              <Link to={`/log/${one.code}`}>{one.code}</Link> <b>{one.parts.map((part) => part.name).join(", ")}</b> on{" "}
              {one.printer}
              {one.material && `, ${one.material}`}, {one.started_at && `since ${moment(one.started_at)}`}
              {one.duration_s > 0 && `, takes ${duration(one.duration_s)}`}
            </span>
            <Link className="btn btn-primary" to={`/log/${one.code}/finish`}>
              How did it come out?
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
