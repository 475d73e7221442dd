import Button from "react-bootstrap/Button";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment } from "../../shared/format";

/** When a bottle was last shaken: settled pigment looks exactly like a wrong exposure. */
export function Shaken({ bottle }: { bottle: Schemas["Bottle"] }) {
  const shake = useSend((_: null) =>
    body(POST("/api/bottles/{row_id}/shaken", { params: { path: { row_id: bottle.id } } })),
  );
  return (
    <span className="d-inline-flex align-items-center gap-2">
      {bottle.last_shaken_at ? moment(bottle.last_shaken_at) : "not noted"}
      {!bottle.retired_at && (
        <Button
          variant="quiet"
          size="sm"
          disabled={shake.isPending}
          onClick={() => shake.mutate(null)}
          aria-label={`${bottle.code} is shaken now`}
        >
          Now
        </Button>
      )}
    </span>
  );
}
