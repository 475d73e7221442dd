import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { body, POST } from "../api/client";
import { useSend } from "../api/useSend";
import { FormDialog } from "../fields/FormDialog";
import { NumberField } from "../fields/NumberField";
import { TextField } from "../fields/TextField";
import { JobBar } from "../job/JobBar";
import { useJob } from "../job/useJob";
import { Trouble } from "../Trouble";

/** The coupon, its print, and the job that prints it already. */
type Props = { code: string; printId: string; underWay?: string | null | undefined };

/** A print on the simulated printer: begun here, followed while it runs, stopped when wanted. */
export function VirtualPrint({ code, printId, underWay }: Props) {
  const [asking, setAsking] = useState(false);
  const [started, setStarted] = useState<string>();
  const { job, running, stop } = useJob(underWay ?? started);
  if (running && job) return <JobBar job={job} stop={stop} of={code} stopName={`Stop printing ${code}`} />;
  return (
    <>
      <Button size="sm" onClick={() => setAsking(true)} aria-label={`Print ${code} on the simulated printer`}>
        Print
      </Button>
      {job?.state === "failed" && <span className="small text-secondary">{job.message}</span>}
      {job?.state === "cancelled" && <span className="small text-secondary">Stopped; nothing was kept.</span>}
      {asking && (
        <PrintDialog
          title={`Print ${code}`}
          prints={[printId]}
          onClose={() => setAsking(false)}
          onStarted={(ids) => setStarted(ids[0])}
        />
      )}
    </>
  );
}

const SPEEDS: [number, string][] = [
  [60, "60 times real time: a minute a second"],
  [240, "240 times real time"],
  [1_000_000, "as fast as it can"],
];

type DialogProps = { title: string; prints: string[]; onClose: () => void; onStarted?: (jobs: string[]) => void };

/** How warm the resin is, then print: one after the other. */
export function PrintDialog({ title, prints, onClose, onStarted }: DialogProps) {
  const [temp, setTemp] = useState<number | null>(() => Number(localStorage.getItem("setback.virtual-temp") ?? 23));
  const [reason, setReason] = useState("");
  const [speed, setSpeed] = useState(() => Number(localStorage.getItem("setback.virtual-speed") ?? 240));
  const start = useSend(
    async (_: null) => {
      const jobs: string[] = [];
      for (const print_id of prints)
        jobs.push(
          (
            await body(
              POST("/api/virtual-prints", { body: { print_id, temp_c: temp ?? 23, speed, outside_band: reason } }),
            )
          ).id,
        );
      return jobs;
    },
    (jobs) => {
      localStorage.setItem("setback.virtual-temp", String(temp));
      localStorage.setItem("setback.virtual-speed", String(speed));
      onStarted?.(jobs);
      onClose();
    },
  );
  return (
    <FormDialog
      title={`${title} on the simulated printer`}
      action="Print"
      saving={start.isPending}
      error={null}
      ready={temp !== null}
      onSave={() => start.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0">
        It prints faster than real time, then puts a photo beside the coupon. Its truth stays hidden: read the coupon as
        you would a real one.
      </p>
      <NumberField
        autoFocus
        label="Resin temperature at start"
        unit="°C"
        value={temp}
        onChange={setTemp}
        error={start.error?.fields.temp_c}
        hint="Cold resin needs more light and loses more to the peel"
      />
      <Form.Group controlId="virtual-speed">
        <Form.Label>How fast</Form.Label>
        <Form.Select value={speed} onChange={(event) => setSpeed(Number(event.target.value))}>
          {SPEEDS.map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <Trouble error={start.error && !start.error.fields.temp_c ? start.error : null} />
      {start.error?.fields.outside_band && (
        <TextField label="Print anyway because" value={reason} onChange={setReason} />
      )}
    </FormDialog>
  );
}
