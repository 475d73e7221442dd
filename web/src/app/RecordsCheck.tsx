import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { body, POST } from "../shared/api/client";
import { useSend } from "../shared/api/useSend";
import { JobBar } from "../shared/job/JobBar";
import { useJob } from "../shared/job/useJob";
import { Trouble } from "../shared/Trouble";

/** Walks the chains of issued sets and qualifications as a job, with progress. */
export function RecordsCheck({ onClose }: { onClose: () => void }) {
  const start = useSend((_: null, headers) => body(POST("/api/jobs", { body: { kind: "verify" }, headers })));
  const begin = start.mutate;
  useEffect(() => begin(null), [begin]);
  const id = start.data?.id;
  const { job: now, result, running, stop } = useJob<{ intact: boolean; words: string }>(id);
  return (
    <Modal show onHide={onClose} aria-labelledby="check-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="check-title" className="h3 m-0">
          Signed records
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Trouble error={start.error} />
        {running && now && <JobBar job={now} stop={stop} of="the check" />}
        {result?.intact && <p className="mb-0">{result.words}</p>}
        {result && !result.intact && (
          <p className="trouble mb-0" role="alert">
            {result.words} Do not rely on it or on later records; restore a backup.
          </p>
        )}
        {now?.state === "cancelled" && <p className="mb-0">Stopped; nothing is known of the rest.</p>}
        {now?.state === "failed" && <Trouble error={now} />}
      </Modal.Body>
      <Modal.Footer>
        <Button onClick={onClose}>Close</Button>
      </Modal.Footer>
    </Modal>
  );
}
