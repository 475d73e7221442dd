import { useId, useRef, useState, type KeyboardEvent } from "react";
import { flushSync } from "react-dom";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import InputGroup from "react-bootstrap/InputGroup";
import { NumberField } from "../../shared/fields/NumberField";
import { understand } from "../../shared/fields/units";
import { useUnreadable } from "../../shared/fields/unreadable";
import type { MethodField, Row } from "./model";

type Props = {
  field: MethodField;
  row: Row;
  onRow: (changes: Row) => void;
  error?: string;
  disabled?: boolean;
  onNext?: () => void;
  autoFocus?: boolean;
};

/** One field of a method, whatever its kind: a number, several, a rating, a choice, yes or no. */
export function FieldOf({ field, row, onRow, error, disabled, onNext, autoFocus }: Props) {
  const set = (value: Row[string]) => onRow({ [field.key]: value });
  const value = row[field.key] ?? null;
  if (field.kind === "yes")
    return (
      <Buttons
        field={field}
        error={error}
        disabled={disabled}
        onNext={onNext}
        autoFocus={autoFocus}
        options={[
          [true, "yes", "y"],
          [false, "no", "n"],
        ]}
        value={value}
        onValue={set}
      />
    );
  if (field.kind === "choice")
    return (
      <Buttons
        field={field}
        error={error}
        disabled={disabled}
        onNext={onNext}
        autoFocus={autoFocus}
        options={field.choices.map((one, index) => [one, one, String(index + 1)])}
        value={value}
        onValue={set}
      />
    );
  if (field.kind === "rating") {
    const steps = Array.from({ length: field.high - field.low + 1 }, (_, index) => field.low + index);
    return (
      <Buttons
        field={field}
        error={error}
        disabled={disabled}
        onNext={onNext}
        autoFocus={autoFocus}
        options={steps.map((one) => [one, String(one), String(one)])}
        value={value}
        onValue={set}
      />
    );
  }
  if (field.kind === "numbers")
    return (
      <Numbers
        field={field}
        error={error}
        disabled={disabled}
        value={Array.isArray(value) ? value : []}
        onValue={set}
        onNext={onNext}
      />
    );
  return (
    <NumberField
      label={field.label + (field.optional ? " (if known)" : "")}
      unit={field.unit}
      value={typeof value === "number" ? value : null}
      onChange={set}
      error={error}
      hint={field.hint || undefined}
      disabled={disabled}
      onEnter={onNext}
      autoFocus={autoFocus}
    />
  );
}

type ButtonsProps = {
  field: MethodField;
  error?: string;
  disabled?: boolean;
  onNext?: () => void;
  autoFocus?: boolean;
  options: [Row[string], string, string][];
  value: Row[string];
  onValue: (value: Row[string]) => void;
};

/** A few answers as buttons; each has a key, so that a gloved hand may stay on the keyboard. */
function Buttons({ field, error, disabled, onNext, autoFocus, options, value, onValue }: ButtonsProps) {
  const id = useId();
  function onKeyDown(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const found = options.find(([, , key]) => key === event.key.toLowerCase());
    if (found) {
      event.preventDefault();
      event.stopPropagation();
      // What was answered may open the next field, and the next key comes at once.
      flushSync(() => onValue(found[0]));
      onNext?.();
    } else if (event.key === "Enter") {
      // Enter only goes on: it would press the button in focus, and answer what nobody looked at.
      event.preventDefault();
      if (value !== null || field.optional) onNext?.();
    }
  }
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- keys for the buttons inside it
    <div role="group" aria-labelledby={id} className="answer-buttons" onKeyDown={onKeyDown}>
      <span id={id} className="form-label">
        {field.label}
        {field.optional && " (if seen)"}
      </span>
      <div className="btn-group flex-wrap">
        {options.map(([one, name], index) => (
          <Button
            key={name}
            variant={value === one ? "primary" : "quiet"}
            aria-pressed={value === one}
            disabled={disabled}
            autoFocus={autoFocus && index === 0}
            onClick={() => onValue(field.optional && value === one ? null : one)}
          >
            {name}
          </Button>
        ))}
      </div>
      {field.hint && <small className="form-text d-block">{field.hint}</small>}
      {error && <div className="trouble mt-1">{error}</div>}
    </div>
  );
}

/** Several readings of one thing, with spaces between. */
function Numbers({
  field,
  error,
  disabled,
  value,
  onValue,
  onNext,
}: {
  field: MethodField;
  error?: string;
  disabled?: boolean;
  value: number[];
  onValue: (value: number[]) => void;
  onNext?: () => void;
}) {
  const id = useId();
  const [text, setText] = useState(value.join(" "));
  const parts = text.split(/[\s;]+/).filter(Boolean);
  const read = parts.map((part) => understand(part, ""));
  const bad = parts.find((_, index) => !(read[index] && "value" in read[index]));
  const input = useRef<HTMLInputElement>(null);
  const unread = bad && `“${bad}” is no number.`;
  useUnreadable(input, unread);
  return (
    <Form.Group controlId={id}>
      <Form.Label>{field.label}</Form.Label>
      <InputGroup hasValidation>
        <Form.Control
          ref={input}
          className="num"
          inputMode="decimal"
          autoComplete="off"
          value={text}
          disabled={disabled}
          isInvalid={Boolean(unread || error)}
          onChange={(event) => {
            setText(event.target.value);
            const next = event.target.value
              .split(/[\s;]+/)
              .filter(Boolean)
              .map((part) => understand(part, ""));
            onValue(
              next.every((one) => one && "value" in one) ? next.map((one) => (one as { value: number }).value) : [],
            );
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter" && onNext) {
              event.preventDefault();
              onNext();
            }
          }}
        />
        {field.unit && <InputGroup.Text>{field.unit}</InputGroup.Text>}
        <Form.Control.Feedback type="invalid">{unread ?? error}</Form.Control.Feedback>
      </InputGroup>
      <Form.Text>
        {value.length > 1 ? `${value.length} readings` : field.hint || "several, with spaces between"}
      </Form.Text>
    </Form.Group>
  );
}
