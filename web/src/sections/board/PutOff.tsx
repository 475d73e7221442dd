import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { day } from "../../shared/format";

type Task = Schemas["Task"];

const later = (on: string, days: number) => new Date(Date.parse(on) + days * 86_400_000).toISOString().slice(0, 10);

/** Until when an entry of today's list can wait, and why; without a day it is dismissed while it says the same. */
export function PutOffDialog({ task, on, onClose }: { task: Task; on: string; onClose: () => void }) {
  const say = useSay();
  const entry = useEntry<{ until: string; reason: string }>({ until: later(on, 1), reason: "" });
  const { until, reason } = entry.values;
  const back = useSend((_: null) => body(POST("/api/today/bring-back", { body: { key: task.key } })));
  const save = useSend(
    (_: null) =>
      body(POST("/api/today/put-off", { body: { key: task.key, detail: task.detail, until: until || null, reason } })),
    () => {
      say(until ? `Put off until ${day(until)}.` : "Dismissed while it says the same.", () => back.mutate(null));
      onClose();
    },
  );
  const { field, errors, elsewhere } = entry.checked(save.error);
  return (
    <FormDialog
      title={task.title}
      action={until ? "Put off" : "Dismiss"}
      saving={save.isPending}
      error={elsewhere}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <div className="d-flex gap-2 flex-wrap" role="group" aria-label="Until">
        {(
          [
            ["Tomorrow", later(on, 1)],
            ["In a week", later(on, 7)],
            ["Dismiss", ""],
          ] as const
        ).map(([name, value]) => (
          <Button
            key={name}
            variant={until === value ? "primary" : "quiet"}
            aria-pressed={until === value}
            onClick={() => entry.set({ until: value })}
          >
            {name}
          </Button>
        ))}
      </div>
      <TextField type="date" label="Show it again on" {...field("until")} hint="Empty: until it says something else" />
      <TextField
        label="Why it can wait"
        {...field("reason")}
        error={errors.reason && "Give the reason in a few words."}
        autoFocus
      />
    </FormDialog>
  );
}

/** What was put off, folded under today's list. */
export function PutOffList({ later }: { later: Schemas["TaskPutOff"][] }) {
  const [open, setOpen] = useState(false);
  const back = useSend((key: string) => body(POST("/api/today/bring-back", { body: { key } })));
  if (!later.length) return null;
  return (
    <>
      <Button
        variant="link"
        size="sm"
        className="px-0 no-print"
        aria-expanded={open}
        onClick={() => setOpen((was) => !was)}
      >
        {later.length} put off
      </Button>
      {open && (
        <ul>
          {later.map(({ task, put_off }) => (
            <li key={task.key}>
              <strong>{task.title}</strong>
              <span className="text-secondary small d-block">
                {put_off.until ? `until ${day(put_off.until)}` : "dismissed"} by {put_off.initials}: {put_off.reason}
              </span>
              <Button variant="link" size="sm" className="px-0" onClick={() => back.mutate(task.key)}>
                Show it again
              </Button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
