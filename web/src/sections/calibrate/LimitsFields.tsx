import Form from "react-bootstrap/Form";
import type { Schemas } from "../../shared/api/client";
import { NumberField } from "../../shared/fields/NumberField";
import { size } from "../../shared/format";

export type Limits = Schemas["Limits"];
type Series = Schemas["Series"];

type Props = {
  limits: Limits;
  series: Series | undefined;
  onChange: (limits: Limits) => void;
  errors: Record<string, string>;
};

/** What the parts need. An empty size leaves its lane out. */
export function LimitsFields({ limits, series, onChange, errors }: Props) {
  const set = (changes: Partial<Limits>) => onChange({ ...limits, ...changes });
  const share = (name: "walls_probability" | "slots_probability" | "tips_probability", label: string) => (
    <NumberField
      label={label}
      unit="%"
      value={limits[name] === null ? null : Number((100 * limits[name]).toFixed(3))}
      onChange={(value) => set({ [name]: (value ?? 0) / 100 })}
      error={errors[`limits.${name}`] && "Give more than 0 and less than 100 %."}
    />
  );
  return (
    <div className="settings-grid">
      <NumberField
        label="Edges within ±"
        unit="µm"
        value={limits.growth_tol_um}
        onChange={(value) => set({ growth_tol_um: value })}
        error={errors["limits.growth_tol_um"]}
      />
      <NumberField
        label="of a growth of"
        unit="µm"
        value={limits.growth_target_um}
        onChange={(value) => set({ growth_target_um: value ?? 0 })}
        error={errors["limits.growth_target_um"]}
      />
      <SizeChoice
        label="Thinnest wall"
        value={limits.walls_size_mm}
        sizes={series?.walls_mm}
        onChange={(v) => set({ walls_size_mm: v })}
      />
      {share("walls_probability", "Such walls stand")}
      <SizeChoice
        label="Narrowest slot"
        value={limits.slots_size_mm}
        sizes={series?.slots_mm}
        onChange={(v) => set({ slots_size_mm: v })}
      />
      {share("slots_probability", "Such slots open")}
      <SizeChoice
        label="Support tip"
        value={limits.tips_size_mm}
        sizes={series?.tips_mm}
        onChange={(v) => set({ tips_size_mm: v })}
      />
      {share("tips_probability", "It holds")}
      <NumberField
        label="Tips per part"
        value={limits.tips_per_part}
        onChange={(value) => set({ tips_per_part: value })}
        error={errors["limits.tips_per_part"]}
        hint="If all must hold together"
      />
      <NumberField
        label="Lost under bridges"
        unit="µm"
        value={limits.z_bloom_max_um}
        onChange={(value) => set({ z_bloom_max_um: value })}
        error={errors["limits.z_bloom_max_um"]}
        hint="At most; empty asks for no Z bridge"
      />
      <SizeChoice
        label="Tip that should fail"
        value={limits.fail_tip_size_mm}
        sizes={series?.tips_mm}
        onChange={(v) => set({ fail_tip_size_mm: v })}
      />
    </div>
  );
}

function SizeChoice({
  label,
  value,
  sizes,
  onChange,
}: {
  label: string;
  value: number | null;
  sizes: number[] | undefined;
  onChange: (value: number | null) => void;
}) {
  const all =
    sizes && value !== null && !sizes.some((s) => Math.abs(s - value) < 1e-6)
      ? [...sizes, value].sort((a, b) => a - b)
      : (sizes ?? []);
  return (
    <Form.Group controlId={`limit-${label.replace(/\W+/g, "-")}`}>
      <Form.Label>{label}</Form.Label>
      <Form.Select
        className="num"
        value={value ?? ""}
        onChange={(event) => onChange(event.target.value ? Number(event.target.value) : null)}
      >
        <option value="">not needed</option>
        {all.map((one) => (
          <option key={one} value={one}>
            {size(one)} mm
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}
