import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";

/** What went through a bath since it was filled, against what it takes; and the way to fill it anew. */
export function BathLoads({ bath }: { bath: Schemas["BathRow"] }) {
  const say = useSay();
  const params = { params: { path: { row_id: bath.id } } };
  const undo = useSend(
    (_: null) => body(POST("/api/wash-baths/{row_id}/fillings/withdraw", params)),
    () => say(`${bath.name} is as it was.`),
  );
  const fill = useSend(
    (_: null, headers) => body(POST("/api/wash-baths/{row_id}/fillings", { ...params, headers })),
    () => say(`${bath.name} is filled anew.`, () => undo.mutate(null)),
  );
  const share = Math.min(bath.loads / bath.most_loads, 1);
  const spent = bath.loads >= bath.most_loads;
  return (
    <span className="d-inline-flex flex-wrap align-items-center gap-2">
      <svg width="64" height="10" viewBox="0 0 64 10" aria-hidden="true">
        <rect x="0.5" y="0.5" width="63" height="9" rx="3" fill="none" stroke="var(--edge)" />
        <rect x="1" y="1" width={62 * share} height="8" rx="2.5" fill={spent ? "var(--bad)" : "var(--violet-mid)"} />
      </svg>
      <span className="num">
        {bath.loads} of {bath.most_loads} loads
      </span>
      {spent && <b>spent: fill it anew</b>}
      {!bath.retired_at && (
        <Button
          variant="quiet"
          size="sm"
          disabled={fill.isPending}
          onClick={() => fill.mutate(null)}
          aria-label={`${bath.name} is filled anew now`}
        >
          Filled anew
        </Button>
      )}
    </span>
  );
}
