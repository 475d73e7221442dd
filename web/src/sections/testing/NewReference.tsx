import { useState } from "react";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";

/** Bought-in reference, to compare with: it has no set and no exposure. */
export function NewReference({ onMade, onClose }: { onMade: (id: string) => void; onClose: () => void }) {
  const [name, setName] = useState("");
  const [what, setWhat] = useState("");
  const [price, setPrice] = useState<number | null>(null);
  const send = useSend(
    (_: null, headers) => body(POST("/api/reference-materials", { body: { name, what, price_per_l: price }, headers })),
    (made) => onMade(made.id),
  );
  const errors = send.error?.fields ?? {};
  return (
    <FormDialog
      title="Bought-in reference"
      saving={send.isPending}
      error={send.error}
      onSave={() => send.mutate(null)}
      onClose={onClose}
    >
      <TextField label="Name" value={name} onChange={setName} error={errors.name} placeholder="Sawn sheet" autoFocus />
      <TextField
        label="What it is"
        value={what}
        onChange={setWhat}
        error={errors.what}
        placeholder="4 mm sheet, sawn and filed"
      />
      <NumberField label="Price per litre" unit="/l" value={price} onChange={setPrice} error={errors.price_per_l} />
    </FormDialog>
  );
}
