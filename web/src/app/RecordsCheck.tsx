import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { body, POST } from "../shared/api/client";
import { useSend } from "../shared/api/useSend";
import { JobBar } from "../shared/job/JobBar";
import { useJob } from "../shared/job/useJob";
import { Trouble } from "../shared/Trouble";

/** Walks all records of evidence as a job, with progress, and holds each against the journal. */
export function RecordsCheck({ onClose }: { onClose: () => void }) {
  const start = useSend((_: null, headers) => body(POST("/api/jobs", { body: { kind: "verify" }, headers })));
  const begin = start.mutate;
  useEffect(() => begin(null), [begin]);
  const id = start.data?.id;
  const {
    job: now,
    result,
    running,
    stop,
  } = useJob<{ intact: boolean; words: string; faults?: string[]; notes?: string[] }>(id);
  return (
    <Modal show onHide={onClose} aria-labelledby="check-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="check-title" className="h3 m-0">
          Are all records what was entered?
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Trouble error={start.error} />
        {running && now && <JobBar job={now} stop={stop} of="the check" />}
        {result?.intact && <p className="mb-0">{result.words}</p>}
        {result && !result.intact && (
          <div className="trouble mb-0" role="alert">
            {(result.faults ?? [result.words]).map((fault) => (
              <div key={fault}>{fault}</div>
            ))}
            Do not rely on it or on later records; restore a backup.
          </div>
        )}
        {result?.notes?.map((note) => (
          <p key={note} className="quiet mt-2 mb-0">
            {note}
          </p>
        ))}
        {now?.state === "cancelled" && <p className="mb-0">Stopped; nothing is known of the rest.</p>}
        {now?.state === "failed" && <Trouble error={now} />}
      </Modal.Body>
      <Modal.Footer>
        <Button onClick={onClose}>Close</Button>
      </Modal.Footer>
    </Modal>
  );
}
