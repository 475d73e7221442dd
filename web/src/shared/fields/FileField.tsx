import { useId } from "react";
import Form from "react-bootstrap/Form";

type Props = {
  label: string;
  accept: string;
  onChoose: (file: File) => void;
  disabled?: boolean;
  hint?: string;
  error?: string;
};

/** A file chosen from this device; the same one can be chosen again. */
export function FileField({ label, accept, onChoose, disabled, hint, error }: Props) {
  return (
    <Form.Group controlId={useId()}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        type="file"
        accept={accept}
        disabled={disabled}
        isInvalid={Boolean(error)}
        onClick={({ currentTarget }) => (currentTarget.value = "")}
        onChange={({ currentTarget }) => {
          const file = currentTarget instanceof HTMLInputElement ? currentTarget.files?.[0] : undefined;
          if (file) onChoose(file);
        }}
      />
      <Form.Control.Feedback type="invalid">{error}</Form.Control.Feedback>
      {hint && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  );
}
