import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { clockTime } from "../../shared/format";
import { LabelAddress } from "../../shared/labels/LabelAddress";
import { Trouble } from "../../shared/Trouble";

const LOOK_MS = 1_500;

/** A code on the screen that signs a phone in as oneself, once. */
export function PairDialog({ initials, onClose }: { initials: string; onClose: () => void }) {
  const begin = useSend((_: null) => body(POST("/api/session/pairings")));
  const show = begin.mutate;
  useEffect(() => show(null), [show]);
  const code = begin.data;
  const now = useGet(
    "/api/session/pairings/{pairing_id}",
    code ? { params: { path: { pairing_id: code.id } } } : null,
    { refetchInterval: (query) => (query.state.data?.paired ? false : LOOK_MS), gcTime: 0 },
  );
  return (
    <Modal show onHide={onClose} aria-labelledby="pair-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="pair-title" className="h3 m-0">
          Pair a phone as {initials}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="text-center d-grid gap-3">
        <Trouble error={begin.error ?? now.error} />
        <LabelAddress lead="This code leads" />
        {code && !now.data?.paired && (
          <>
            <img
              className="mx-auto"
              src={`/api/session/pairings/${code.id}/code.svg`}
              alt="QR code to pair a phone"
              width={260}
              height={260}
            />
            <p className="mb-0" role="status">
              Scan it with the phone's camera before {clockTime(code.ends_at)}. It works once, and signs that phone in
              as {initials}: show it to nobody else.
            </p>
          </>
        )}
        {now.data?.paired && (
          <p className="mb-0" role="status">
            The phone is paired. It stands in the list of devices, where it is named and revoked.
          </p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="quiet" onClick={() => show(null)} disabled={begin.isPending}>
          Another code
        </Button>
        <Button onClick={onClose}>Close</Button>
      </Modal.Footer>
    </Modal>
  );
}
