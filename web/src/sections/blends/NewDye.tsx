import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";

/** A dye or pigment; what it does to the exposure is measured, or it is not known. */
export function NewDye({ onMade, onClose }: { onMade: (id: string) => void; onClose: () => void }) {
  const entry = useEntry({
    name: "",
    what: "",
    density_g_ml: null as number | null,
    price_per_l: null as number | null,
    exposure_pct_per_percent: null as number | null,
    basis: "",
  });
  const { values } = entry;
  const isMeasured = values.exposure_pct_per_percent !== null;
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/dyes", {
          body: { ...values, basis: isMeasured ? values.basis.trim() || null : null },
          headers,
        }),
      ),
    (made) => onMade(made.id),
  );
  const { field } = entry.checked(send.error);
  return (
    <FormDialog
      title="A new dye"
      saving={send.isPending}
      error={send.error}
      onSave={() => send.mutate(null)}
      onClose={onClose}
    >
      <TextField label="Name" {...field("name")} autoFocus />
      <TextField label="What it is" {...field("what")} />
      <NumberField label="Density" unit="g/ml" {...field("density_g_ml")} />
      <NumberField label="Price" unit="/l" {...field("price_per_l")} />
      <NumberField
        label="Measured: exposure rises for each percent by"
        unit="%"
        {...field("exposure_pct_per_percent")}
        hint="Leave open when it was never measured"
      />
      {isMeasured && <TextField label="Measured how" {...field("basis")} />}
    </FormDialog>
  );
}
