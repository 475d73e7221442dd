import Form from "react-bootstrap/Form";
import type { Kind } from "./plan";

const KINDS: [Kind, string][] = [
  ["flat", "flat"],
  ["support", "support tips"],
  ["z-bridge", "Z bridge"],
  ["grid", "plate grid"],
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
    <Form.Group className={className} controlId="coupon-kind">
      <Form.Label>Coupon</Form.Label>
      <Form.Select value={kind} onChange={(event) => onKind(event.target.value as Kind)}>
        {KINDS.filter(([value]) => !without.includes(value)).map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}
