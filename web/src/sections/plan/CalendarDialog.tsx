import { useState } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { moment } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";

/** The plan for a calendar program: once as a file, or by an address that is read again and again until it is revoked. */
export function CalendarDialog({ onClose }: { onClose: () => void }) {
  const [address, setAddress] = useState<string | null>(null);
  const feeds = useGet("/api/plan/feeds", {}, { select: (answer) => answer.items });
  const open = useSend(
    (_: null, headers) => body(POST("/api/plan/feeds", { headers })),
    (opened) => setAddress(opened.address),
  );
  const revoke = useSend((id: string) =>
    body(POST("/api/plan/feeds/{feed_id}/revoke", { params: { path: { feed_id: id } } })),
  );
  return (
    <Modal show onHide={onClose} aria-label="Calendar">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h3 m-0">
          Calendar
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="d-grid gap-3">
        <a className="btn btn-outline-primary" href="/api/plan/calendar.ics" download="plan.ics">
          Save as a file
        </a>
        <Button variant="outline-primary" disabled={open.isPending} onClick={() => open.mutate(null)}>
          Open an address to read it by
        </Button>
        {address && (
          <p className="caution mb-0">
            Copy it now, it is not shown again; whoever has it can read the plan:{" "}
            <code className="text-break">{address}</code>
          </p>
        )}
        {feeds.data && feeds.data.length > 0 && (
          <ul className="plain-list mb-0" aria-label="Addresses that stand">
            {feeds.data.map((feed) => (
              <li key={feed.id} className="d-flex gap-2 align-items-center">
                <span className="flex-grow-1">
                  {feed.initials}, {moment(feed.created_at)}
                </span>
                <Button variant="quiet" size="sm" disabled={revoke.isPending} onClick={() => revoke.mutate(feed.id)}>
                  Revoke
                </Button>
              </li>
            ))}
          </ul>
        )}
        <Trouble error={open.error ?? revoke.error} />
      </Modal.Body>
    </Modal>
  );
}
