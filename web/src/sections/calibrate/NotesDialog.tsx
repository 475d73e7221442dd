import { useState } from "react";
import { useSay } from "../../app/toasts";
import { body, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { Choice } from "../../shared/fields/Choice";
import { TextField } from "../../shared/fields/TextField";
import type { Calibration } from "./model";
import { useGet } from "../../shared/api/useGet";
import { useOpened } from "../../shared/fields/useOpened";

const PAGE = { retired: false, after: "", limit: 200 };

/** Correct which bottle and finish route this calibration is made with, and its note. */
export function NotesDialog({ calibration, onClose }: { calibration: Calibration; onClose: () => void }) {
  const say = useSay();
  const version = useOpened(calibration.version);
  const [bottle, setBottle] = useState(calibration.bottle_id ?? "");
  const [route, setRoute] = useState(calibration.finish_route_id ?? "");
  const [note, setNote] = useState(calibration.note);
  const bottles = useGet("/api/bottles", { params: { query: { ...PAGE, material_id: calibration.material_id } } });
  const routes = useGet("/api/finish-routes", { params: { query: PAGE } });
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/calibrations/{calibration_id}/notes", {
          params: { path: { calibration_id: calibration.id } },
          body: { version, bottle_id: bottle || null, finish_route_id: route || null, note },
        }),
      ),
    () => {
      say("Saved.");
      onClose();
    },
  );
  const errors = save.error?.fields ?? {};
  return (
    <FormDialog
      title="Bottle, finish route, note"
      action="Save"
      saving={save.isPending}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <Choice
        label="Bottle"
        value={bottle}
        onChange={setBottle}
        error={errors.bottle_id}
        none="not noted"
        options={bottles.data?.items.map((one) => [one.id, `${one.code}, lot ${one.lot}`]) ?? []}
      />
      <Choice
        label="Finish route"
        value={route}
        onChange={setRoute}
        error={errors.finish_route_id}
        none="not noted"
        options={routes.data?.items.map((one) => [one.id, one.name]) ?? []}
      />
      <TextField label="Note" value={note} onChange={setNote} lines={3} />
    </FormDialog>
  );
}
