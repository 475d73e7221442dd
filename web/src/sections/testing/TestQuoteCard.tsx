import { money } from "../../shared/labForm";
import type { Schemas } from "../../shared/api/client";
import { duration, millilitres, plural } from "../../shared/format";

/** What a test costs and what is unfair about it, before it is made. */
export function TestQuoteCard({
  quote,
  waiting,
  refused,
}: {
  quote: Schemas["TestQuote"] | undefined;
  waiting: boolean;
  refused: string | null;
}) {
  if (refused) return <p className="panel trouble m-0">{refused}</p>;
  if (!quote)
    return (
      <div className="panel">
        {waiting ? (
          <p className="m-0">Choose the materials: the number of specimens and the cost follow.</p>
        ) : (
          <p className="m-0 text-secondary">Working it out…</p>
        )}
      </div>
    );
  return (
    <div className="panel" aria-live="polite">
      <p className="key-number mb-0">
        <span className="num">{quote.each}</span>{" "}
        <small>in each group, from {quote.prints === 1 ? "one print" : `${quote.prints} prints`}</small>
      </p>
      <p className="text-secondary">
        {quote.each_from}
        {quote.sees && <>. {quote.sees}</>}
      </p>
      <dl className="facts">
        <dt>Specimens</dt>
        <dd className="num">{quote.specimens}</dd>
        <dt>Printing</dt>
        <dd className="num">{quote.print_s ? duration(quote.print_s) : "not known"}</dd>
        <dt>Resin</dt>
        <dd className="num">{quote.volume_ml ? millilitres(quote.volume_ml) : "not known"}</dd>
        <dt>At the bench</dt>
        <dd className="num">{duration(60 * quote.bench_min)}</dd>
        {quote.cost !== null && (
          <>
            <dt>Cost</dt>
            <dd className="num">{money(quote.cost)}</dd>
          </>
        )}
      </dl>
      <ul className="small mb-2 ps-3">
        {quote.groups.map((one) => (
          <li key={one.number}>
            {one.name}:{" "}
            {one.printed && one.prints === 0
              ? "its prints are not planned here, so they count as one"
              : one.printed
                ? `${plural(one.prints, "print")}${one.plates > one.prints ? `, ${plural(one.plates, "plate")}` : ""}${one.duration_s ? `, ${duration(one.duration_s)}` : ""}`
                : "bought in"}
          </li>
        ))}
      </ul>
      {quote.concerns.map((one) => (
        <p key={one.code} className={`${one.must_confirm ? "trouble" : "caution"} mb-2`}>
          {one.message}
        </p>
      ))}
      {quote.warnings.map((one) => (
        <p key={one.code} className="caution mb-2">
          {one.message}
        </p>
      ))}
    </div>
  );
}
