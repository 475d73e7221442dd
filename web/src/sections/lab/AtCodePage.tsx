import { Link, Navigate, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { EmptyState } from "../../shared/EmptyState";
import { Loaded } from "../../shared/Loading";
import { placeOfFound } from "../../shared/places";
import "./atHand.scss";

/** Where the address on a label leads: the page of what has this code. */
export default function AtCodePage() {
  const { code = "" } = useParams();
  const query = useGet("/api/find", { params: { query: { q: code } } }, { retry: false });
  const isOut = query.error?.status === 0;
  // Without the server: what waits at the bench is known here.
  const hand = useGet("/api/at-hand", isOut ? {} : null, { retry: false });
  const kept = isOut && hand.data ? placeInHand(hand.data, code) : null;
  if (kept) return <Navigate to={kept} replace />;
  return (
    <Loaded query={query} page>
      {({ items }) => {
        const exact = items.filter((one) => one.code.toLowerCase() === code.toLowerCase());
        const only = exact[0] ?? (items.length === 1 ? items[0] : undefined);
        return only ? <Navigate to={placeOfFound(only)} replace /> : <Several code={code} found={items} />;
      }}
    </Loaded>
  );
}

function placeInHand(hand: Schemas["AtHand"], code: string): string | null {
  const asked = (one: { code: string }) => one.code.toLowerCase() === code.toLowerCase();
  const coupon = hand.to_read.find(asked);
  if (coupon) return `/coupons/${coupon.code}`;
  const print = hand.running.find(asked);
  if (print) return `/log/${print.code}/finish`;
  const card = hand.cards.find(asked);
  return card ? `/sets/${card.code}` : null;
}

function Several({ code, found }: { code: string; found: readonly Schemas["Found"][] }) {
  if (!found.length)
    return (
      <>
        <PageHead title={code} />
        <EmptyState purpose={`Nothing here has the code ${code}. Is the label of this lab?`}>
          <Link className="btn btn-quiet" to="/at-hand">
            To the bench
          </Link>
        </EmptyState>
      </>
    );
  return (
    <>
      <PageHead title={code} sub="Which of these is it?" />
      <div className="at-hand">
        {found.map((one) => (
          <Link key={`${one.kind} ${one.id}`} className="panel line" to={placeOfFound(one)}>
            <b className="num">{one.code}</b>
            <span>
              {one.kind} {one.title}
            </span>
          </Link>
        ))}
      </div>
    </>
  );
}
