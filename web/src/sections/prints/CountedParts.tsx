import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { NumberField } from "../../shared/fields/NumberField";

export type Counted = {
  name: string;
  printed: number | null;
  /** Null: all of them. */
  whole: number | null;
  /** How many of the others had too little light, and too much, where the signs speak for both. */
  under?: number | null;
  over?: number | null;
  x_mm: number | null;
  y_mm: number | null;
};
export const NO_PART: Counted = { name: "", printed: 1, whole: null, x_mm: null, y_mm: null };
export const failedOf = (part: Counted) => (part.printed ?? 1) - (part.whole ?? part.printed ?? 1);
/** Parts as the server takes them. */
export const partsBody = (parts: Counted[]) =>
  parts.map(({ name, printed, whole, under, over, x_mm, y_mm }) => ({
    name,
    place: "",
    printed: printed ?? 1,
    whole: whole ?? printed ?? 1,
    outcome: "whole" as const,
    under: under ?? 0,
    over: over ?? 0,
    x_mm,
    y_mm,
  }));

type Props = {
  parts: Counted[];
  onChange: (parts: Counted[]) => void;
  errors: Record<string, string>;
  /** Whether they came out already, so that the whole ones are counted. */
  counts: boolean;
  /** Parts as they were planned keep their names and numbers. */
  fixed?: boolean;
};

/** What is on the plate, and how many of it came out whole. */
export function CountedParts({ parts, onChange, errors, counts, fixed }: Props) {
  const change = (index: number, changes: Partial<Counted>) =>
    onChange(parts.map((part, at) => (at === index ? { ...part, ...changes } : part)));
  return (
    <fieldset className="parts wide">
      <legend className="form-label">{counts ? "Parts, and how many are whole" : "Parts"}</legend>
      {parts.map((part, index) => (
        <div key={index} className="part">
          {fixed ? (
            <b className="align-self-center">{part.name}</b>
          ) : (
            <Form.Control
              aria-label={`Part ${index + 1}`}
              placeholder="What it is"
              value={part.name}
              isInvalid={Boolean(errors[`parts.${index}.name`])}
              onChange={(event) => change(index, { name: event.target.value })}
            />
          )}
          {counts && (
            <>
              <NumberField
                label={`Whole of part ${index + 1}`}
                hideLabel
                value={part.whole ?? part.printed}
                onChange={(whole) => change(index, { whole })}
                error={errors[`parts.${index}.whole`] ?? errors[`parts.${index}.under`]}
              />
              <span className="align-self-center">of</span>
            </>
          )}
          {fixed ? (
            <span className="num align-self-center">{part.printed}</span>
          ) : (
            <NumberField
              label={`How many of part ${index + 1}`}
              hideLabel
              value={part.printed}
              onChange={(printed) => change(index, { printed })}
              error={errors[`parts.${index}.printed`]}
            />
          )}
          {counts && (
            <Button
              variant={(part.whole ?? part.printed) === 0 ? "primary" : "quiet"}
              aria-pressed={(part.whole ?? part.printed) === 0}
              aria-label={`None of part ${index + 1} is whole`}
              onClick={() => change(index, { whole: (part.whole ?? part.printed) === 0 ? null : 0 })}
            >
              none
            </Button>
          )}
        </div>
      ))}
      {!fixed && (
        <Button
          variant="link"
          className="p-0"
          onClick={() => onChange([...parts, { ...NO_PART, name: parts.at(-1)?.name ?? "" }])}
        >
          One more part
        </Button>
      )}
      {errors.parts && <p className="trouble">{errors.parts}</p>}
      {Object.keys(errors).some((name) => /^parts\.\d+\.name$/.test(name)) && (
        <p className="trouble mb-0">Say what was printed.</p>
      )}
    </fieldset>
  );
}
