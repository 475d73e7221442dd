import { TextField } from "../../shared/fields/TextField";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { useEntry } from "../../shared/fields/useEntry";
import { Trouble } from "../../shared/Trouble";
import type { Arm, Calibration } from "./model";
import { SettingsFields, type PartSettings, type Settings } from "../../shared/fields/SettingsFields";

type Props = { calibration: Calibration; from: Arm; onClose: () => void; onStarted: (number: number) => void };

/** Start an arm that changes one thing. */
export function ArmDialog({ calibration, from, onClose, onStarted }: Props) {
  const entry = useEntry<{ settings: PartSettings; name: string }>({ settings: from.settings, name: "" });
  const { settings, name } = entry.values;
  const [now, before]: Record<string, number | null>[] = [settings, from.settings];
  const changed = calibration.setting_fields.filter(({ key }) => now?.[key] !== before?.[key]);
  const suggested = changed
    .map((field) => `${field.label.toLowerCase()} ${now?.[field.key] ?? "?"}${field.unit ? ` ${field.unit}` : ""}`)
    .join(", ");
  const start = useSend(
    (_: null, headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/arms", {
          params: { path: { calibration_id: calibration.id } },
          body: { name: name || suggested || "same settings", settings: settings as Settings },
          headers,
        }),
      ),
    ({ arms }) => {
      onStarted(Math.max(...arms.map((one) => one.number)));
      onClose();
    },
  );
  const { field, errors, elsewhere } = entry.checked(start.error);
  return (
    <FormDialog
      large
      title="Start an arm"
      action="Start"
      saving={start.isPending}
      error={null}
      onSave={() => start.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0">
        Change one thing, so that a difference can be told. Coupons of two arms never share a window.
      </p>
      <SettingsFields
        settings={settings}
        onChange={(settings) => entry.set({ settings })}
        errors={errors}
        fields={calibration.setting_fields}
      />
      {changed.length > 1 && (
        <p className="caution mb-0">
          {changed.length} settings differ: a difference between the arms will not tell which one made it.
        </p>
      )}
      <TextField label="Name" {...field("name")} placeholder={suggested || "what is different"} />
      <Trouble error={elsewhere} />
    </FormDialog>
  );
}
