import { Trouble } from "../../shared/Trouble";
import type { Arm } from "./model";
import { Notices } from "./Notices";

/** What the evidence is missing or warns of. */
export function Evidence({ arm }: { arm: Arm }) {
  const result = arm.window;
  const found = arm.coupons.flatMap((coupon) =>
    coupon.findings.map((message) => ({ code: `finding ${coupon.code}`, message: `${coupon.code}: ${message}` })),
  );
  const sides: Record<string, string> = {
    lower: "Nothing limits the window from below yet: print a shorter exposure, or read walls or tips.",
    upper: "Nothing limits the window from above yet: read slots or sizes, or print a longer exposure.",
    both: "No lane can be drawn from what was read.",
  };
  return (
    <>
      {arm.window_refused && <Trouble error={{ message: arm.window_refused }} className="my-2" />}
      {result && result.beyond_ladder.length > 0 && (
        <p className="caution" data-notice="beyond-ladder">
          The {result.beyond_ladder.join(" and ")} {result.beyond_ladder.length > 1 ? "lanes end" : "lane ends"} outside
          what was printed. Nothing is offered there: print {result.print_direction.join(" and ")}.
        </p>
      )}
      {result?.open_side && !arm.from_prints && (
        <p className="caution" data-notice="open-side">
          {sides[result.open_side]}
        </p>
      )}
      <Notices notices={[...found, ...(result?.warnings ?? [])]} />
    </>
  );
}
