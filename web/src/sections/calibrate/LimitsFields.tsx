import { useState } from "react";
import Form from "react-bootstrap/Form";
import type { Schemas } from "../../shared/api/client";
import { NumberField } from "../../shared/fields/NumberField";
import { size } from "../../shared/format";
import { featureOf, LimitDrawing, type LitFeature } from "./LimitDrawing";

export type Limits = Schemas["Limits"];
type Field = Schemas["LimitFieldView"];

type Props = {
  limits: Limits | null;
  /** How each limit is asked for; not known before the printer is. */
  fields: Field[] | undefined;
  onChange: (limits: Limits) => void;
  errors: Record<string, string>;
};

/** What the parts need, as the lanes ask for it. An empty limit leaves its lane out. */
export function LimitsFields({ limits, fields, onChange, errors }: Props) {
  const [lit, setLit] = useState<LitFeature>(null);
  if (!limits || !fields)
    return <p className="text-secondary mb-0">Choose a material and a printer: sizes are those its pixels draw.</p>;
  const values: Record<string, number | null | undefined> = limits;
  return (
    <div className="limits-lit">
      <div className="settings-grid">
        {fields.map((field) => (
          <div
            key={field.key}
            onFocus={() => setLit(featureOf(field.key))}
            onMouseEnter={() => setLit(featureOf(field.key))}
          >
            {entryOf(field, limits)}
          </div>
        ))}
      </div>
      <LimitDrawing lit={lit} />
    </div>
  );

  function entryOf(field: Field, now: Limits) {
    const common = {
      label: field.label,
      value: values[field.key] ?? null,
      onChange: (value: number | null) => onChange({ ...now, [field.key]: value ?? field.empty }),
    };
    const error = errors[`limits.${field.key}`];
    if (field.kind === "size") return <SizeChoice key={field.key} {...common} sizes={field.sizes_mm ?? []} />;
    if (field.kind === "share") return <Share key={field.key} {...common} error={error} />;
    return <NumberField key={field.key} {...common} unit={field.unit} hint={field.hint} error={error} />;
  }
}

type Common = { label: string; value: number | null; onChange: (value: number | null) => void };

/** A share, typed in percent. */
function Share({ value, onChange, error, ...rest }: Common & { error: string | undefined }) {
  return (
    <NumberField
      {...rest}
      unit="%"
      value={value === null ? null : Number((100 * value).toFixed(3))}
      onChange={(typed) => onChange(typed === null ? null : typed / 100)}
      error={error && "Give more than 0 and less than 100 %."}
    />
  );
}

function SizeChoice({ label, value, sizes, onChange }: Common & { sizes: number[] }) {
  const all =
    value !== null && !sizes.some((s) => Math.abs(s - value) < 1e-6) ? [...sizes, value].sort((a, b) => a - b) : sizes;
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
