import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { ReasonDialog } from "../../shared/ReasonDialog";
import type { Calibration } from "./model";

export function CloseDialog({ calibration, onClose }: { calibration: Calibration; onClose: () => void }) {
  const say = useSay();
  const path = { params: { path: { calibration_id: calibration.id } } };
  const reopen = useSend((_: null) => body(POST("/api/calibrations/{calibration_id}/reopen", path)));
  const close = useSend(
    (reason: string) =>
      body(
        POST("/api/calibrations/{calibration_id}/close", { ...path, body: { version: calibration.version, reason } }),
      ),
    () => {
      say(`${calibration.code} is closed.`, () => reopen.mutate(null));
      onClose();
    },
  );
  return (
    <ReasonDialog
      title={`Close ${calibration.code}`}
      label="Why"
      action="Close it"
      saving={close.isPending}
      error={close.error}
      onClose={onClose}
      onSave={(reason) => close.mutate(reason)}
    >
      <p>Nothing is printed for it any more. Its evidence and issued sets stay.</p>
    </ReasonDialog>
  );
}
