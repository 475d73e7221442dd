import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import ProgressBar from "react-bootstrap/ProgressBar";
import { body, GET, POST } from "../shared/api/client";
import { useSend } from "../shared/api/useSend";
import { plural } from "../shared/format";
import { Trouble } from "../shared/Trouble";

/** Walks the chain of issued sets as a job, with progress. */
export function RecordsCheck({ onClose }: { onClose: () => void }) {
  const start = useSend((_: null, headers) => body(POST("/api/jobs", { body: { kind: "verify" }, headers })));
  const begin = start.mutate;
  useEffect(() => begin(null), [begin]);
  const id = start.data?.id;
  const job = useQuery({
    queryKey: ["job", id],
    queryFn: () => body(GET("/api/jobs/{job_id}", { params: { path: { job_id: id! } } })),
    enabled: Boolean(id),
    refetchInterval: (query) => (query.state.data && ["done", "failed", "cancelled"].includes(query.state.data.state) ? false : 200),
  });
  const stop = useSend((_: null) => body(POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: id! } } })));
  const now = job.data;
  const result = now?.result as { intact: boolean; checked: number; first_broken: string | null } | null | undefined;
  return (
    <Modal show onHide={onClose} aria-labelledby="check-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="check-title" className="h3 m-0">
          Issued records
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Trouble error={start.error} />
        {now && now.state !== "done" && <ProgressBar now={100 * now.progress} aria-label="Progress" className="mb-2" />}
        {result?.intact && <p className="mb-0">{plural(result.checked, "issued set")}, none altered.</p>}
        {result && !result.intact && (
          <p className="trouble mb-0" role="alert">
            Set {result.first_broken} is not what was issued. Do not rely on it or on later sets; restore a backup.
          </p>
        )}
        {now && now.state !== "done" && <p className="text-secondary mb-0">{now.message || "Waiting"}</p>}
      </Modal.Body>
      <Modal.Footer>
        {now && (now.state === "queued" || now.state === "running") && (
          <Button variant="quiet" onClick={() => stop.mutate(null)}>
            Stop
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
      </Modal.Footer>
    </Modal>
  );
}
