import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { momentOf } from "../prints/moments";

/** A task of one's own beside the work itself: order resin, fetch a film. */
export function OwnTaskDialog({ onClose, onAdded }: { onClose: () => void; onAdded: () => void }) {
  const say = useSay();
  const entry = useEntry({ name: "", minutes: 15 as number | null, due_at: "", note: "" });
  const back = useSend(
    (id: string) => body(POST("/api/plan/own-tasks/{task_id}/withdraw", { params: { path: { task_id: id } } })),
    onAdded,
  );
  const add = useSend(
    (_: null, headers) => {
      const { name, minutes, due_at, note } = entry.values;
      return body(
        POST("/api/plan/own-tasks", {
          body: { name, note, minutes: minutes ?? 15, due_at: momentOf(due_at), version: null },
          headers,
        }),
      );
    },
    (added) => {
      say(`${added.name} is a task now.`, () => back.mutate(added.id));
      onAdded();
      onClose();
    },
  );
  const { field, elsewhere } = entry.checked(add.error);
  return (
    <FormDialog
      title="Add a task"
      saving={add.isPending}
      error={elsewhere}
      ready={entry.values.name.trim() !== ""}
      onSave={() => add.mutate(null)}
      onClose={onClose}
    >
      <TextField label="What is to be done" {...field("name")} autoFocus placeholder="Order Slate 2" />
      <NumberField label="It takes you" unit="min" {...field("minutes")} />
      <TextField label="Needed by" type="datetime-local" {...field("due_at")} hint="empty: whenever it fits" />
      <TextField label="Note" {...field("note")} lines={2} />
    </FormDialog>
  );
}
