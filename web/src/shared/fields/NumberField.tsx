import {
  forwardRef,
  useEffect,
  useId,
  useImperativeHandle,
  useRef,
  useState,
  type KeyboardEvent,
  type ReactNode,
} from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import InputGroup from "react-bootstrap/InputGroup";
import { THIN } from "../format";
import { inLabUnit, inMark, signOfUnit, useLabForm } from "../labForm";
import { understand, type Unit } from "./units";
import { useReadingInto } from "./readingInto";
import { useUnreadable } from "./unreadable";

type Props = {
  label: ReactNode;
  unit?: Unit;
  value: number | null;
  onChange: (value: number | null) => void;
  /** Says whether the text in the field cannot be read; nothing is saved meanwhile anyway. */
  onBad?: (bad: boolean) => void;
  error?: string;
  suggest?: number;
  hint?: ReactNode;
  required?: boolean;
  disabled?: boolean;
  hideLabel?: boolean;
  onEnter?: () => void;
  className?: string;
  autoFocus?: boolean;
  small?: boolean;
};

/** A number as a person would write it: more than eight digits are what a division left, and nothing anybody typed. */
function written(value: number | null, unit: Unit): string {
  if (value === null) return "";
  const there = inLabUnit(value, unit);
  if (there !== value) return inMark(String(Number(unit === "°C" ? there.toFixed(1) : there.toPrecision(4))));
  const exact = String(value);
  return inMark(exact.replace(/\D/g, "").length > 8 ? String(Number(value.toPrecision(4))) : exact);
}

/** A number with its unit: takes comma, point and common units, and shows what was understood. */
export const NumberField = forwardRef<HTMLInputElement, Props>(function NumberField(
  {
    label,
    unit = "",
    value,
    onChange,
    onBad,
    error,
    suggest,
    hint,
    required,
    disabled,
    hideLabel,
    onEnter,
    className,
    autoFocus,
    small,
  },
  ref,
) {
  const id = useId();
  const field = useRef<HTMLInputElement>(null);
  const typed = useRef("");
  useImperativeHandle<HTMLInputElement | null, HTMLInputElement | null>(ref, () => field.current);
  const [text, setText] = useState(written(value, unit));
  // Where the lab's units change under a number that is being entered, the number stays and is written anew.
  const form = useLabForm();
  const [writtenIn, setWrittenIn] = useState(form);
  if (writtenIn !== form) {
    setWrittenIn(form);
    if (value !== null) setText(written(value, unit));
  }
  const understood = understand(text, unit);
  const meant = understood && "value" in understood ? understood.value : null;
  useEffect(() => {
    if (value !== meant && !(understood && "problem" in understood)) setText(written(value, unit));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only a change from outside may replace what is being typed
  }, [value]);
  useEffect(() => {
    // A number that came from outside into the field one stands in is marked, so that typing replaces it.
    const here = field.current;
    if (
      here &&
      here === document.activeElement &&
      value !== null &&
      text === written(value, unit) &&
      text !== typed.current
    )
      here.select();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- it is about the text, which follows the value
  }, [text]);

  function type(next: string) {
    typed.current = next;
    setText(next);
    const read = understand(next, unit);
    const bad = read !== null && "problem" in read;
    onBad?.(bad);
    onChange(read && "value" in read ? read.value : null);
  }
  function onKeyDown(event: KeyboardEvent) {
    if (event.key === "Enter" && onEnter) {
      event.preventDefault();
      onEnter();
    }
  }
  const unread = understood && "problem" in understood ? understood.problem : undefined;
  useUnreadable(field, unread);
  useReadingInto(field, unit, (reading) => type(written(reading, unit)));
  const problem = unread ?? error;
  const note =
    understood && "value" in understood && understood.converted
      ? `= ${written(understood.value, unit)}${THIN}${signOfUnit(unit)}`
      : null;
  return (
    <Form.Group className={className} controlId={id}>
      <Form.Label visuallyHidden={hideLabel}>{label}</Form.Label>
      <InputGroup hasValidation size={small ? "sm" : undefined}>
        <Form.Control
          ref={field}
          className="num text-end"
          inputMode="decimal"
          autoComplete="off"
          value={text}
          required={required}
          disabled={disabled}
          autoFocus={autoFocus}
          isInvalid={Boolean(problem)}
          aria-describedby={`${id}-note`}
          onChange={(event) => type(event.target.value)}
          onKeyDown={onKeyDown}
          onFocus={(event) => event.target.select()}
        />
        {unit && <InputGroup.Text>{signOfUnit(unit)}</InputGroup.Text>}
        <Form.Control.Feedback type="invalid" id={`${id}-error`}>
          {problem}
          {suggest !== undefined && (
            <Button variant="link" size="sm" className="ms-1 py-0" onClick={() => type(written(suggest, unit))}>
              Use {written(suggest, unit)}
              {THIN}
              {signOfUnit(unit)}
            </Button>
          )}
        </Form.Control.Feedback>
      </InputGroup>
      {(note || hint) && (
        <Form.Text id={`${id}-note`} className="d-block">
          {note && <span className="num me-2">{note}</span>}
          {hint}
        </Form.Text>
      )}
    </Form.Group>
  );
});
