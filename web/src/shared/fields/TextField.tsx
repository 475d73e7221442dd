import { useId, type ComponentProps } from "react";
import Form from "react-bootstrap/Form";

type Props = {
  label: string;
  value: string;
  onChange: (text: string) => void;
  error?: string | false | null;
  hint?: string;
  className?: string;
  /** Lines of a longer text. */
  lines?: number;
} & Pick<
  ComponentProps<typeof Form.Control>,
  "placeholder" | "autoFocus" | "autoComplete" | "disabled" | "maxLength" | "type" | "inputMode"
>;

/** A line or a few lines of text; its error stands beside it. */
export function TextField({ label, value, onChange, error, hint, className, lines, ...rest }: Props) {
  return (
    <Form.Group controlId={useId()} className={className}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        {...(lines ? { as: "textarea" as const, rows: lines } : {})}
        value={value}
        isInvalid={Boolean(error)}
        onChange={(event) => onChange(event.target.value)}
        {...rest}
      />
      <Form.Control.Feedback type="invalid">{error}</Form.Control.Feedback>
      {hint && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  );
}
