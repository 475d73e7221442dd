import type { Schemas } from "../../shared/api/client";
import { NumberField } from "../../shared/fields/NumberField";
import type { Unit } from "../../shared/fields/units";

export type Settings = Schemas["Settings"];
type Name = keyof Settings;

/** Every setting in the order people meet them in a slicing program. */
export const SETTING_FIELDS: { name: Name; label: string; unit: Unit }[] = [
  { name: "light_power_pct", label: "Light power", unit: "%" },
  { name: "base_exposure_s", label: "Base exposure", unit: "s" },
  { name: "base_layers", label: "Base layers", unit: "" },
  { name: "transition_layers", label: "Transition layers", unit: "" },
  { name: "rest_before_s", label: "Rest before exposure", unit: "s" },
  { name: "rest_after_lift_s", label: "Rest after lift", unit: "s" },
  { name: "rest_after_retract_s", label: "Rest after retract", unit: "s" },
  { name: "lift_mm", label: "Lift and retract distance", unit: "mm" },
  { name: "lift_mm_min", label: "Lift speed", unit: "mm/min" },
  { name: "retract_mm_min", label: "Retract speed", unit: "mm/min" },
  { name: "anti_aliasing", label: "Anti-aliasing", unit: "" },
];

export const SETTING_NAMES: Record<string, string> = Object.fromEntries(
  SETTING_FIELDS.map(({ name, label }) => [name, label.toLowerCase()]),
);

export const USUAL: Settings = {
  light_power_pct: 100,
  base_exposure_s: 24,
  base_layers: 4,
  transition_layers: 3,
  rest_before_s: 1,
  rest_after_lift_s: 0,
  rest_after_retract_s: 0,
  lift_mm: 6,
  lift_mm_min: 60,
  retract_mm_min: 150,
  anti_aliasing: 0,
};

export type PartSettings = { [K in Name]: number | null };

type Props = {
  settings: PartSettings;
  onChange: (settings: PartSettings) => void;
  errors: Record<string, string>;
  power: boolean;
  delay: boolean;
};

export function SettingsFields({ settings, onChange, errors, power, delay }: Props) {
  return (
    <div className="settings-grid">
      {SETTING_FIELDS.filter((field) => power || field.name !== "light_power_pct").map((field) => (
        <NumberField
          key={field.name}
          label={field.name === "rest_before_s" && delay ? "Delay before exposure" : field.label}
          unit={field.unit}
          value={settings[field.name]}
          onChange={(value) => onChange({ ...settings, [field.name]: value })}
          error={errors[`settings.${field.name}`]}
          hint={field.name === "rest_before_s" && delay ? "Counts from the start of motion on this printer" : undefined}
        />
      ))}
    </div>
  );
}
