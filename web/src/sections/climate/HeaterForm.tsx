import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EntryForm, type FieldSpec } from "../../shared/fields/EntryForm";

const FIELDS: FieldSpec[] = [
  { name: "name", label: "Name", type: "text", required: true },
  { name: "watts", label: "Power, W", type: "number", required: true },
  { name: "cut_out", label: "It has a thermal cut-out of its own", type: "check" },
  { name: "thermostat", label: "It has a thermostat", type: "check" },
];

/** A heater; without a cut-out nothing is planned with it. */
export function HeaterForm({ onClose }: { onClose: () => void }) {
  const say = useSay();
  const save = useSend(
    (values: Record<string, unknown>, headers) =>
      body(POST("/api/heaters", { body: values as Schemas["HeaterInput"], headers })),
    (made) => {
      say(`${made.name} is saved.`);
      onClose();
    },
  );
  return (
    <EntryForm
      title="Add a heater"
      fields={FIELDS}
      caution="A heater in a chamber needs a thermal cut-out, clear space and someone present; never near open solvent."
      values={{ name: "", watts: null, cut_out: false, thermostat: false }}
      saving={save.isPending}
      error={save.error}
      onSave={(given) => save.mutate(given)}
      onClose={onClose}
    />
  );
}
