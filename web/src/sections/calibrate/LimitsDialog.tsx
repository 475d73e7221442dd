import { useState } from "react";
import { useSay } from "../../app/toasts";
import { body, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import type { Calibration } from "./model";
import { WholeShare } from "./from-prints/WholeShare";
import { LimitsFields, type Limits } from "./LimitsFields";
import { useOpened } from "../../shared/fields/useOpened";

/** Change what the parts need; verdicts and window follow. */
export function LimitsDialog({ calibration, onClose }: { calibration: Calibration; onClose: () => void }) {
  const say = useSay();
  // What undo brings back: as it was when the dialog opened, whatever has been fetched since.
  const [before] = useState({
    limits: calibration.limits,
    guard_band_pct: calibration.guard_band_pct,
    whole_share: calibration.whole_share,
  });
  const version = useOpened(calibration.version);
  const [limits, setLimits] = useState<Limits>(calibration.limits);
  const [share, setShare] = useState(calibration.whole_share);
  const path = { params: { path: { calibration_id: calibration.id } } };
  const undo = useSend((version: number) =>
    body(PUT("/api/calibrations/{calibration_id}/limits", { ...path, body: { version, ...before } })),
  );
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/calibrations/{calibration_id}/limits", {
          ...path,
          body: {
            version,
            limits,
            guard_band_pct: calibration.guard_band_pct,
            whole_share: share,
          },
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
      {calibration.whole_share === null ? (
        <LimitsFields
          limits={limits}
          fields={calibration.series.fields}
          onChange={setLimits}
          errors={save.error?.fields ?? {}}
        />
      ) : (
        <WholeShare value={share} onChange={setShare} error={save.error?.fields.whole_share} />
      )}
    </FormDialog>
  );
}
