import { Choice } from "../../../shared/fields/Choice";
import type { Kind } from "./plan";

const KINDS: [Kind, string][] = [
  ["flat", "flat"],
  ["support", "support tips"],
  ["z-bridge", "Z bridge"],
  ["grid", "plate grid"],
  ["own", "one of our own"],
];

/** Which coupon, for what it tells. */
export function KindChoice({
  kind,
  onKind,
  className,
  without = [],
}: {
  kind: Kind;
  onKind: (kind: Kind) => void;
  className: string;
  without?: Kind[];
}) {
  return (
    <div className={className}>
      <Choice
        label="Coupon"
        value={kind}
        onChange={onKind}
        options={KINDS.filter(([value]) => !without.includes(value))}
      />
    </div>
  );
}
