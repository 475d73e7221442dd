import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Coupon } from "./model";
import { useGet } from "../../shared/api/useGet";

/** A second person's reading, made without seeing this one, and where the two disagree. */
export function BlindReadings({ coupon }: { coupon: Coupon }) {
  const say = useSay();
  const withdraw = useSend((blind_id: string) =>
    body(POST("/api/blind-readings/{blind_id}/withdraw", { params: { path: { blind_id } } })),
  );
  const ask = useSend(
    (_: null, headers) =>
      body(
        POST("/api/coupons/{id_or_code}/blind-readings", { params: { path: { id_or_code: coupon.code } }, headers }),
      ),
    (made) =>
      say(`A second reading of ${coupon.code} is asked for. It stands on the Board.`, () => withdraw.mutate(made.id)),
  );
  const query = useGet("/api/coupons/{id_or_code}/blind-readings", { params: { path: { id_or_code: coupon.code } } });
  if (!coupon.reading || !query.data) return null;
  const blind = query.data.items;
  const open = blind.some((one) => one.read_at === null);
  return (
    <section className="panel" aria-label="Second reading">
      <h2>Second reading</h2>
      {blind.length === 0 && (
        <p className="text-secondary">In doubt? Another technician reads it without seeing yours.</p>
      )}
      {blind.map((one) =>
        one.comparison ? (
          <div key={one.id} className="mb-2" data-blind={one.initials}>
            <b>
              {one.initials}, {one.read_at && moment(one.read_at)}:
            </b>{" "}
            {one.comparison.summary}
            {one.comparison.disagreements.length > 0 && (
              <ul className="mb-1">
                {one.comparison.disagreements.map((each) => (
                  <li key={each.key}>{each.message}</li>
                ))}
              </ul>
            )}
            {one.note && <p className="text-secondary mb-1">{one.note}</p>}
          </div>
        ) : (
          <p key={one.id}>
            Asked for by {one.asked_by}, {moment(one.asked_at)}. <Link to={`/blind/${one.id}`}>Read it blind</Link>
          </p>
        ),
      )}
      {!open && (
        <Button variant="link" className="p-0" disabled={ask.isPending} onClick={() => ask.mutate(null)}>
          Ask for {blind.length ? "another" : "a"} second reading
        </Button>
      )}
      <Trouble error={ask.error} />
    </section>
  );
}
