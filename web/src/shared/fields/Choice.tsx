import { useId } from "react";
import Form from "react-bootstrap/Form";

type ChoiceProps = { label: string; value: string; onChange: (value: string) => void; options: [string, string][]; error?: string; none?: string };

/** One of several, by id and name; with `none`, nothing may be chosen. */
export function Choice({ label, value, onChange, options, error, none }: ChoiceProps) {
  return (
    <Form.Group controlId={useId()}>
      <Form.Label>{label}</Form.Label>
      <Form.Select value={value} isInvalid={Boolean(error)} onChange={(event) => onChange(event.target.value)}>
        {(none !== undefined || !value) && <option value="">{none ?? "Choose…"}</option>}
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Form.Select>
      <Form.Control.Feedback type="invalid">{error}</Form.Control.Feedback>
    </Form.Group>
  );
}
