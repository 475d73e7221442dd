import { useState } from "react";
import { Link } from "react-router";
import { plural } from "../../shared/format";
import type { TestView } from "./model";

/** Specimens in the random order they are broken in; the one whose turn it is stands out. */
export function OrderSheet({ test }: { test: TestView }) {
  const [all, setAll] = useState(false);
  const names = new Map(test.groups.map((one) => [one.number, one.name]));
  const shown = all
    ? test.specimens
    : test.specimens.filter((one) => !one.reads.length || test.method.pattern === "series");
  return (
    <section className="panel" aria-label="Order sheet">
      <h2>In this order</h2>
      {test.left === 0 && <p>Every specimen is read.</p>}
      {test.left > 0 && !test.next_code && (
        <p className="text-secondary">Specimens wait for their prints to come out and be cured.</p>
      )}
      <ol className="order-sheet">
        {shown.map((one) => (
          <li key={one.id} className={one.code === test.next_code ? "turn-now" : undefined}>
            <span className="num text-secondary text-end">{one.turn}</span>
            {one.ready ? (
              <Link className="num" to={`/test/${test.code}/${one.code}`}>
                {one.code}
              </Link>
            ) : (
              <span className="num">{one.code}</span>
            )}
            <span className={one.gone_reason ? "gone" : ""}>{names.get(one.group)}</span>
            <span className="small text-secondary">
              {one.gone_reason ??
                (one.reads.length ? (test.method.against ? `to ${one.reads.at(-1)?.at_value}` : "read") : one.place)}
            </span>
          </li>
        ))}
      </ol>
      {test.specimens.length > shown.length || all ? (
        <button type="button" className="btn btn-link p-0 mt-2" onClick={() => setAll(!all)}>
          {all ? "Hide those read" : `Show the ${plural(test.specimens.length - shown.length, "specimen")} read`}
        </button>
      ) : null}
    </section>
  );
}
