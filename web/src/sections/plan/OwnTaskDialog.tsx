import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { Trouble } from "../../shared/Trouble";
import { asTypedMoment, momentOf } from "../prints/moments";
import { useOpened } from "../../shared/fields/useOpened";

type Own = Schemas["OwnTask"];
type Props = { code: string | null; onClose: () => void; onChanged: () => void };

/** A task of one's own beside the work itself, new or by its code: order resin, fetch a film. */
export function OwnTaskDialog({ code, ...rest }: Props) {
  const stored = useGet("/api/plan/own-tasks", code === null ? null : {}, { select: (answer) => answer.items }).data;
  const task = stored?.find((one) => one.code === code);
  if (code !== null && !task) return null;
  return <OwnTaskForm key={task?.id ?? "new"} task={task ?? null} {...rest} />;
}

function OwnTaskForm({ task, onClose, onChanged }: Omit<Props, "code"> & { task: Own | null }) {
  const say = useSay();
  const entry = useEntry({
    name: task?.name ?? "",
    minutes: (task?.minutes ?? 15) as number | null,
    due_at: task?.due_at ? asTypedMoment(new Date(task.due_at)) : "",
    note: task?.note ?? "",
  });
  const version = useOpened(task?.version ?? null);
  const withdraw = useSend(
    (id: string) => body(POST("/api/plan/own-tasks/{task_id}/withdraw", { params: { path: { task_id: id } } })),
    onChanged,
  );
  const restore = useSend(
    (id: string) => body(POST("/api/plan/own-tasks/{task_id}/restore", { params: { path: { task_id: id } } })),
    onChanged,
  );
  const save = useSend(
    (_: null, headers) => {
      const { name, minutes, due_at, note } = entry.values;
      const request = { name, note, minutes: minutes ?? 15, due_at: momentOf(due_at), version };
      return body(
        task
          ? PUT("/api/plan/own-tasks/{task_id}", { params: { path: { task_id: task.id } }, body: request })
          : POST("/api/plan/own-tasks", { body: request, headers }),
      );
    },
    (saved) => {
      if (task) say(`${saved.name} is changed.`);
      else say(`${saved.name} is a task now.`, () => withdraw.mutate(saved.id));
      onChanged();
      onClose();
    },
  );
  const { field, elsewhere } = entry.checked(save.error);
  return (
    <FormDialog
      title={task ? `Change ${task.code}` : "Add a task"}
      action={task ? "Save" : "Add it"}
      saving={save.isPending}
      error={elsewhere}
      ready={entry.values.name.trim() !== ""}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <TextField label="What is to be done" {...field("name")} autoFocus placeholder="Order Slate 2" />
      <NumberField label="It takes you" unit="min" {...field("minutes")} />
      <TextField label="Needed by" type="datetime-local" {...field("due_at")} hint="empty: whenever it fits" />
      <TextField label="Note" {...field("note")} lines={2} />
      {task && (
        <Button
          variant="outline-primary"
          disabled={withdraw.isPending}
          onClick={() =>
            withdraw.mutate(task.id, {
              onSuccess: () => {
                say(`${task.name} is removed.`, () => restore.mutate(task.id));
                onClose();
              },
            })
          }
        >
          Remove
        </Button>
      )}
      <Trouble error={withdraw.error} />
    </FormDialog>
  );
}
