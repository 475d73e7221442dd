import Button from "react-bootstrap/Button";
import type { Plan } from "../../shared/coupon/CouponDrawing";
import { moment, millimetres } from "../../shared/format";
import { counted, type Draft, draftOf, isCounted, isSeen, rowsOf } from "./draft";
import { caliperLabel, rowLabel } from "./labels";
import type { Coupon } from "./model";

type Props = { coupon: Coupon; draft: Draft; onTakeTheirs: (() => void) | undefined };

/** Somebody read this coupon while it was being read here: both readings, side by side. */
export function ReadMeanwhile({ coupon, draft, onTakeTheirs }: Props) {
  const newest = coupon.history.find((one) => one.id === coupon.latest_id);
  const theirs = linesOf(coupon.plan, draftOf(coupon.reading));
  const yours = linesOf(coupon.plan, draft);
  const labels = [...new Set([...theirs.keys(), ...yours.keys()])];
  return (
    <section className="trouble mb-3" aria-label="Two readings">
      <p className="mb-2">
        {newest
          ? `${newest.initials} ${newest.withdrawn ? "withdrew the reading" : "read this coupon"}, ${moment(newest.read_at)}, while you were at it.`
          : "This coupon was changed while you were at it."}{" "}
        Your entry is kept. Compare, then save yours with a reason, or take theirs.
      </p>
      <table className="table table-sm mb-2">
        <thead>
          <tr>
            <th scope="col">Feature</th>
            <th scope="col" className="text-end">
              {newest?.initials ?? "theirs"}
            </th>
            <th scope="col" className="text-end">
              you
            </th>
          </tr>
        </thead>
        <tbody>
          {labels.map((label) => {
            const differs = theirs.get(label) !== yours.get(label);
            return (
              <tr key={label} className={differs ? "fw-bold" : ""}>
                <th scope="row" className={differs ? "" : "fw-normal"}>
                  {label}
                </th>
                <td className="text-end num">{theirs.get(label) ?? "–"}</td>
                <td className="text-end num">
                  {yours.get(label) ?? "–"}
                  {differs && <span className="visually-hidden"> differs</span>}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button size="sm" variant="outline-primary" onClick={onTakeTheirs}>
        Take theirs
      </Button>
    </section>
  );
}

/** What a reading says, feature by feature, as it is typed. */
function linesOf(plan: Plan, draft: Draft): Map<string, string> {
  const lines = new Map<string, string>();
  for (const row of rowsOf(plan)) {
    const count = counted(draft, row);
    if (count !== null) lines.set(rowLabel(row), `${count} of ${row.features.length}`);
  }
  for (const feature of plan.features.filter((one) => !isCounted(one) && !isSeen(one))) {
    const measured = draft.measured[feature.key];
    const state = draft.states[feature.key];
    if (measured !== null && measured !== undefined) lines.set(caliperLabel(feature), millimetres(measured));
    else if (state) lines.set(caliperLabel(feature), state);
  }
  return lines;
}
