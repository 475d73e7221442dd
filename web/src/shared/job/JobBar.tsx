import Button from "react-bootstrap/Button";
import ProgressBar from "react-bootstrap/ProgressBar";
import type { Job } from "./useJob";
import "./job.scss";

/** How far long work has come, in bar and words, and a way to stop it. */
export function JobBar({ job, stop, of, stopName }: { job: Job; stop: () => void; of: string; stopName?: string }) {
  return (
    <div className="job-bar">
      {/* The name belongs on the bar itself; the frame round it has no role. */}
      <ProgressBar>
        <ProgressBar isChild now={Math.max(100 * job.progress, 3)} aria-label={`Progress of ${of}`} />
      </ProgressBar>
      <span className="small text-secondary" aria-live="polite">
        {job.state === "queued" ? "Waits its turn" : job.message}
      </span>
      <Button size="sm" variant="quiet" onClick={stop} aria-label={stopName}>
        Stop
      </Button>
    </div>
  );
}
