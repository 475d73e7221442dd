import type { Schemas } from "../api/client";
import { NumberField } from "./NumberField";

export type Settings = Schemas["Settings"];
export type SettingField = Schemas["SettingField"];
/** As it is being typed. */
export type PartSettings = { [Name in keyof Settings]: number | null };

type Props = {
  settings: PartSettings;
  /** Those this printer has, by the names they have there. */
  fields: SettingField[];
  onChange: (settings: PartSettings) => void;
  errors: Record<string, string>;
};

/** Every setting in the order people meet them in a slicing program. */
export function SettingsFields({ settings, fields, onChange, errors }: Props) {
  const values: Record<string, number | null> = settings;
  return (
    <div className="settings-grid">
      {fields.map((field) => (
        <NumberField
          key={field.key}
          label={field.label}
          unit={field.unit}
          value={values[field.key] ?? null}
          onChange={(value) => onChange({ ...settings, [field.key]: value })}
          error={errors[`settings.${field.key}`]}
          hint={field.hint ?? undefined}
        />
      ))}
    </div>
  );
}
