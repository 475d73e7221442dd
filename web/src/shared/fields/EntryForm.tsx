import { useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Offcanvas from "react-bootstrap/Offcanvas";
import { ApiError } from "../api/client";
import { Trouble } from "../Trouble";
import { DialogForm } from "./DialogForm";
import { NumberField } from "./NumberField";
import type { Unit } from "./units";
import { useEntry } from "./useEntry";
import { useLeaving } from "./useLeaving";
import { useOpened } from "./useOpened";

type Base = { name: string; label: string; hint?: string; required?: boolean; half?: boolean; only?: "new" };
export type FieldSpec =
  | (Base & { type: "text" | "date" | "note" })
  | (Base & { type: "number"; unit?: Unit })
  | (Base & { type: "check" })
  | (Base & { type: "choice"; options: { value: string; name: string }[] })
  | { type: "heading"; name: string; label: string };

type Values = Record<string, unknown>;
type Props = {
  title: string;
  fields: FieldSpec[];
  values: Values;
  /** Of what is changed; none for something new. */
  version?: number;
  saving: boolean;
  error: ApiError | null;
  caution?: string;
  onSave: (values: Values) => void;
  onClose: () => void;
};

/** One form for everything on the shelf: described as fields, checked by the server, errors at their field. */
export function EntryForm({ title, fields, values, version, saving, error, caution, onSave, onClose }: Props) {
  const entry = useEntry<Values>(values);
  const opened = useOpened(version);
  const [asksForMissing, setAsksForMissing] = useState(false);
  const first = useRef<HTMLDivElement>(null);
  const { leave, onInput, question } = useLeaving(onClose);
  const { field: entered, elsewhere } = entry.checked(error);
  const isMissing = (spec: FieldSpec) =>
    spec.type !== "heading" && spec.type !== "check" && spec.required && (entry.values[spec.name] ?? "") === "";

  function submit() {
    setAsksForMissing(true);
    if (fields.some(isMissing)) return;
    const entered = Object.entries(entry.values).map(([name, value]) => [
      name,
      value === "" && !keepsEmpty(fields, name) ? null : value,
    ]);
    onSave({ ...Object.fromEntries(entered), ...(opened !== undefined && { version: opened }) });
  }
  return (
    <Offcanvas
      show
      onHide={leave}
      onInput={onInput}
      onEntered={() => first.current?.querySelector<HTMLElement>("input, select")?.focus()}
      placement="end"
      aria-labelledby="entry-title"
      style={{ width: "min(34rem, 100vw)", background: "var(--panel)" }}
    >
      <DialogForm onSave={submit} className="d-flex flex-column h-100">
        <Offcanvas.Header closeButton>
          <Offcanvas.Title as="h2" id="entry-title" className="h2 m-0">
            {title}
          </Offcanvas.Title>
        </Offcanvas.Header>
        <Offcanvas.Body>
          {caution && <p className="caution">{caution}</p>}
          <Trouble error={elsewhere} className="mb-3" />
          <div className="row g-3" ref={first}>
            {fields.map((field) =>
              field.type === "heading" ? (
                <h3 key={field.name} className="mb-0 mt-4">
                  {field.label}
                </h3>
              ) : (
                <div key={field.name} className={field.half ? "col-6" : "col-12"}>
                  <Field
                    spec={field}
                    {...entered(field.name)}
                    error={asksForMissing && isMissing(field) ? "This is needed." : error?.fields[field.name]}
                  />
                </div>
              ),
            )}
          </div>
        </Offcanvas.Body>
        {question}
        <div className="p-3 border-top d-flex gap-2">
          <Button type="submit" disabled={saving}>
            Save
          </Button>
          <Button variant="quiet" onClick={onClose}>
            Cancel
          </Button>
        </div>
      </DialogForm>
    </Offcanvas>
  );
}

type FieldProps = {
  spec: Exclude<FieldSpec, { type: "heading" }>;
  value: unknown;
  onChange: (value: unknown) => void;
  error?: string;
  suggest?: number;
};

function Field({ spec, value, onChange, error, suggest }: FieldProps) {
  const label = spec.required ? `${spec.label} *` : spec.label;
  if (spec.type === "number")
    return (
      <NumberField
        label={label}
        unit={spec.unit}
        value={(value as number | null) ?? null}
        onChange={onChange}
        error={error}
        suggest={suggest}
        hint={spec.hint}
      />
    );
  if (spec.type === "check")
    return (
      <Form.Check
        id={`field-${spec.name}`}
        label={spec.label}
        checked={Boolean(value)}
        onChange={(event) => onChange(event.target.checked)}
      />
    );
  const shared = { value: (value as string | null) ?? "", isInvalid: Boolean(error) };
  return (
    <Form.Group controlId={`field-${spec.name}`}>
      <Form.Label>{label}</Form.Label>
      {spec.type === "choice" ? (
        <Form.Select {...shared} onChange={(event) => onChange(event.target.value)}>
          {!spec.required && <option value="">–</option>}
          {spec.required && !shared.value && <option value="">Choose…</option>}
          {spec.options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.name}
            </option>
          ))}
        </Form.Select>
      ) : (
        <Form.Control
          {...shared}
          as={spec.type === "note" ? "textarea" : undefined}
          rows={spec.type === "note" ? 3 : undefined}
          type={spec.type === "date" ? "date" : "text"}
          autoComplete="off"
          onChange={(event) => onChange(event.target.value)}
        />
      )}
      <Form.Control.Feedback type="invalid">{error}</Form.Control.Feedback>
      {spec.hint && <Form.Text>{spec.hint}</Form.Text>}
    </Form.Group>
  );
}

function keepsEmpty(fields: FieldSpec[], name: string): boolean {
  return fields.some((f) => f.name === name && f.type === "note");
}
