import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../api/client";
import { useSend } from "../api/useSend";
import { moment, screenHours, THIN } from "../format";
import { ReasonDialog } from "../ReasonDialog";

/** Events, newest first; one recorded by mistake is withdrawn with a reason and stays in sight. */
export function TimeLine({ events, purpose }: { events: Schemas["EventView"][]; purpose: string }) {
  const say = useSay();
  const [asking, setAsking] = useState<Schemas["EventView"] | null>(null);
  const restore = useSend((event_id: string) =>
    body(POST("/api/events/{event_id}/restore", { params: { path: { event_id } } })),
  );
  const withdraw = useSend(
    ({ id, reason }: { id: string; reason: string }) =>
      body(POST("/api/events/{event_id}/withdraw", { params: { path: { event_id: id } }, body: { reason } })),
    (made) => {
      say(`${made.code} is withdrawn; what it had lapsed comes back.`, () => restore.mutate(made.id));
      setAsking(null);
    },
  );
  if (!events.length) return <p className="text-secondary mb-0">{purpose}</p>;
  return (
    <>
      <ol className="list-unstyled mb-0 time-line" aria-label="Events">
        {events.map((one) => (
          <li key={one.id} className={one.withdrawn_at ? "text-secondary" : ""} data-event={one.kind}>
            <span className="num">{moment(one.happened_at)}</span>{" "}
            <b className={one.withdrawn_at ? "text-decoration-line-through" : ""}>{one.name}</b>
            {[
              one.bottle,
              one.screen_hours !== null && `${screenHours(one.screen_hours)}${THIN}h`,
              one.note,
              one.initials,
            ]
              .filter(Boolean)
              .map((part, index) => (
                <span key={index}> · {part}</span>
              ))}
            {one.withdrawn_at ? (
              <span> · withdrawn: {one.withdrawn_reason}</span>
            ) : (
              <Button
                variant="link"
                size="sm"
                className="py-0 ms-1 no-print"
                onClick={() => setAsking(one)}
                aria-label={`Withdraw ${one.name}`}
              >
                Withdraw…
              </Button>
            )}
          </li>
        ))}
      </ol>
      {asking && (
        <ReasonDialog
          title={`Withdraw “${asking.name}”`}
          label="Why"
          action="Withdraw"
          saving={withdraw.isPending}
          error={withdraw.error}
          onSave={(reason) => withdraw.mutate({ id: asking.id, reason })}
          onClose={() => setAsking(null)}
        >
          <p>It stays on record. What it had made due or lapsed comes back.</p>
        </ReasonDialog>
      )}
    </>
  );
}
