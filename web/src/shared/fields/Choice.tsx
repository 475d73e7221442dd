import { useId } from "react";
import Form from "react-bootstrap/Form";

/** Id, name, and the heading it stands under in a long list. */
export type Option<Value extends string = string> = readonly [id: Value, name: string, group?: string];
type ChoiceProps<Value extends string> = {
  label: string;
  value: Value | "";
  onChange: (value: Value) => void;
  options: readonly Option<Value>[];
  error?: string;
  none?: string;
};

/** One of several, by id and name; with `none`, nothing may be chosen. */
export function Choice<Value extends string>({ label, value, onChange, options, error, none }: ChoiceProps<Value>) {
  return (
    <Form.Group controlId={useId()}>
      <Form.Label>{label}</Form.Label>
      <Form.Select
        value={value}
        isInvalid={Boolean(error)} // The values there are, are those of the options.
        onChange={(event) => onChange(event.target.value as Value)}
      >
        {(none !== undefined || !value) && <option value="">{none ?? "Choose…"}</option>}
        {grouped(options).map(([group, held]) =>
          group === undefined ? (
            <Options key="" options={held} />
          ) : (
            <optgroup key={group} label={group}>
              <Options options={held} />
            </optgroup>
          ),
        )}
      </Form.Select>
      <Form.Control.Feedback type="invalid">{error}</Form.Control.Feedback>
    </Form.Group>
  );
}

function Options({ options }: { options: readonly Option[] }) {
  return options.map(([id, name]) => (
    <option key={id} value={id}>
      {name}
    </option>
  ));
}

/** Options under their headings, in the order in which the headings come first. */
function grouped(options: readonly Option[]): [string | undefined, Option[]][] {
  const held = new Map<string | undefined, Option[]>();
  for (const one of options) held.set(one[2], [...(held.get(one[2]) ?? []), one]);
  return [...held];
}
