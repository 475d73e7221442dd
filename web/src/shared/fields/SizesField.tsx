import { useEffect, useId, useRef, useState } from "react";
import Form from "react-bootstrap/Form";
import InputGroup from "react-bootstrap/InputGroup";
import { useUnreadable } from "./unreadable";

type Props = {
  label: string;
  unit: string;
  values: number[] | null;
  usual?: string;
  onChange: (values: number[] | null) => void;
  error?: string;
  hint?: string;
};

/** Several numbers in one field, with spaces or semicolons between them; empty means the usual ones. */
export function SizesField({ label, unit, values, usual, onChange, error, hint }: Props) {
  const id = useId();
  const [text, setText] = useState(values?.join("  ") ?? "");
  const [problem, setProblem] = useState<string>();
  const field = useRef<HTMLInputElement>(null);
  useUnreadable(field, problem);
  useEffect(() => {
    if (String(values) !== String(parse(text))) setText(values?.join("  ") ?? "");
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only a change from outside may replace what is being typed
  }, [values]);

  function type(next: string) {
    setText(next);
    const read = parse(next);
    setProblem(read === "bad" ? "Give numbers with spaces between them." : undefined);
    if (read !== "bad") onChange(read);
  }
  const shown = problem ?? error;
  return (
    <Form.Group controlId={id}>
      <Form.Label>{label}</Form.Label>
      <InputGroup hasValidation>
        <Form.Control
          ref={field}
          className="num"
          inputMode="decimal"
          value={text}
          placeholder={usual}
          isInvalid={Boolean(shown)}
          onChange={(event) => type(event.target.value)}
        />
        <InputGroup.Text>{unit}</InputGroup.Text>
        <Form.Control.Feedback type="invalid">{shown}</Form.Control.Feedback>
      </InputGroup>
      {hint && !shown && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  );
}

/** Numbers, null when empty, or "bad". A comma is a decimal sign when no space follows it. */
export function parse(text: string): number[] | null | "bad" {
  const parts = text
    .split(/[;\s]+|,\s+/)
    .map((part) => part.trim())
    .filter(Boolean);
  if (!parts.length) return null;
  const numbers = parts.map((part) => Number(part.replace(",", ".")));
  return numbers.some((value) => !Number.isFinite(value)) ? "bad" : numbers;
}
