import { useState } from "react";
import { useSay } from "../../app/toasts";
import { body, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import type { Calibration } from "./model";
import { LimitsFields, type Limits } from "./LimitsFields";

/** Change what the parts need; verdicts and window follow. */
export function LimitsDialog({ calibration, onClose }: { calibration: Calibration; onClose: () => void }) {
  const say = useSay();
  // What undo brings back: as it was when the dialog opened, whatever has been fetched since.
  const [before] = useState({ limits: calibration.limits, guard_band_pct: calibration.guard_band_pct });
  const [limits, setLimits] = useState<Limits>(calibration.limits);
  const path = { params: { path: { calibration_id: calibration.id } } };
  const undo = useSend((version: number) =>
    body(PUT("/api/calibrations/{calibration_id}/limits", { ...path, body: { version, ...before } })),
  );
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/calibrations/{calibration_id}/limits", {
          ...path,
          body: { version: calibration.version, limits, guard_band_pct: calibration.guard_band_pct },
        }),
      ),
    (made) => {
      say("Limits are saved; verdicts and window follow.", () => undo.mutate(made.version));
      onClose();
    },
  );
  return (
    <FormDialog
      large
      title="What the parts need"
      action="Save"
      saving={save.isPending}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <LimitsFields
        limits={limits}
        fields={calibration.series.fields}
        onChange={setLimits}
        errors={save.error?.fields ?? {}}
      />
    </FormDialog>
  );
}
