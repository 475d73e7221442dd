import { useState, type ReactNode } from "react";
import type { ApiError } from "./api/client";
import { FormDialog } from "./fields/FormDialog";
import { TextField } from "./fields/TextField";
import { Trouble } from "./Trouble";

type Props = {
  title: string;
  label: string;
  action: string;
  saving: boolean;
  error: ApiError | null;
  children?: ReactNode;
  onClose: () => void;
  onSave: (reason: string) => void;
};

/** Asks for a reason that is recorded with the step. */
export function ReasonDialog({ title, label, action, saving, error, children, onClose, onSave }: Props) {
  const [reason, setReason] = useState("");
  const problem = error?.fields.reason && "Give the reason in a few words.";
  return (
    <FormDialog
      title={title}
      action={action}
      saving={saving}
      error={null}
      onSave={() => onSave(reason)}
      onClose={onClose}
    >
      {children}
      <TextField label={label} value={reason} onChange={setReason} error={problem} lines={2} autoFocus />
      <Trouble error={problem ? null : error} />
    </FormDialog>
  );
}
