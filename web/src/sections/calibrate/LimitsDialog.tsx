import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import { body, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { Trouble } from "../../shared/Trouble";
import type { Calibration } from "./model";
import { LimitsFields, type Limits } from "./LimitsFields";

/** Change what the parts need; verdicts and window follow. */
export function LimitsDialog({ calibration, onClose }: { calibration: Calibration; onClose: () => void }) {
  const say = useSay();
  // What undo brings back: as it was when the dialog opened, whatever has been fetched since.
  const [before] = useState({ limits: calibration.limits, guard_band_pct: calibration.guard_band_pct });
  const [limits, setLimits] = useState<Limits>(calibration.limits);
  const [guard, setGuard] = useState<number | null>(calibration.guard_band_pct);
  const [bad, setBad] = useState<Record<string, boolean>>({});
  const path = { params: { path: { calibration_id: calibration.id } } };
  const undo = useSend((version: number) =>
    body(PUT("/api/calibrations/{calibration_id}/limits", { ...path, body: { version, ...before } })),
  );
  const save = useSend(
    (_: null) => body(PUT("/api/calibrations/{calibration_id}/limits", { ...path, body: { version: calibration.version, limits, guard_band_pct: guard ?? 0 } })),
    (made) => {
      say("Limits are saved; verdicts and window follow.", () => undo.mutate(made.version));
      onClose();
    },
  );
  return (
    <Modal show size="lg" onHide={onClose} aria-labelledby="limits-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (!Object.values(bad).some(Boolean)) save.mutate(null);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="limits-title" className="h3 m-0">
            What the parts need
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <LimitsFields limits={limits} series={calibration.series} onChange={setLimits} onBad={(name, value) => setBad((all) => ({ ...all, [name]: value }))} errors={save.error?.fields ?? {}} />
          <NumberField className="mt-3 col-4" label="Guard band" unit="%" value={guard} onChange={setGuard} error={save.error?.fields.guard_band_pct} hint="Kept from every end" />
          <Trouble error={save.error && !Object.keys(save.error.fields).length ? save.error : null} className="mt-2" />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={save.isPending}>
            Save
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
