import { body, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { asTypedMoment, momentOf } from "../prints/moments";
import type { Plan } from "./model";

/** When a calibration, test or check is needed by. */
export function DueDialog({ plan, job, onClose }: { plan: Plan; job: string; onClose: () => void }) {
  const row = plan.jobs.find((one) => one.job === job);
  const entry = useEntry({ due_at: row?.due_at ? asTypedMoment(new Date(row.due_at)) : "" });
  const save = useSend(
    (_: null) => body(PUT("/api/plan/due", { body: { job, due_at: momentOf(entry.values.due_at) } })),
    onClose,
  );
  const { field, elsewhere } = entry.checked(save.error);
  return (
    <FormDialog
      title={`When is ${job} needed?`}
      action="Save"
      saving={save.isPending}
      error={elsewhere}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <TextField
        label="Needed by"
        type="datetime-local"
        {...field("due_at")}
        hint="empty: whenever it fits"
        autoFocus
      />
    </FormDialog>
  );
}
