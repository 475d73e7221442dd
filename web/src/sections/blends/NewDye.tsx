import { useState } from "react";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";

/** A dye or pigment; what it does to the exposure is measured, or it is not known. */
export function NewDye({ onMade, onClose }: { onMade: (id: string) => void; onClose: () => void }) {
  const [name, setName] = useState("");
  const [what, setWhat] = useState("");
  const [density, setDensity] = useState<number | null>(null);
  const [price, setPrice] = useState<number | null>(null);
  const [effect, setEffect] = useState<number | null>(null);
  const [basis, setBasis] = useState("");
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/dyes", {
          body: {
            name,
            what,
            density_g_ml: density,
            price_per_l: price,
            exposure_pct_per_percent: effect,
            basis: effect === null ? null : basis.trim() || null,
          },
          headers,
        }),
      ),
    (made) => onMade(made.id),
  );
  const errors = send.error?.fields ?? {};
  return (
    <FormDialog
      title="A new dye"
      saving={send.isPending}
      error={send.error}
      onSave={() => send.mutate(null)}
      onClose={onClose}
    >
      <TextField label="Name" value={name} onChange={setName} error={errors.name} autoFocus />
      <TextField label="What it is" value={what} onChange={setWhat} error={errors.what} />
      <NumberField label="Density" unit="g/ml" value={density} onChange={setDensity} error={errors.density_g_ml} />
      <NumberField label="Price" unit="/l" value={price} onChange={setPrice} error={errors.price_per_l} />
      <NumberField
        label="Measured: exposure rises for each percent by"
        unit="%"
        value={effect}
        onChange={setEffect}
        error={errors.exposure_pct_per_percent}
        hint="Leave open when it was never measured"
      />
      {effect !== null && <TextField label="Measured how" value={basis} onChange={setBasis} error={errors.basis} />}
    </FormDialog>
  );
}
