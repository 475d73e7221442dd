import { NumberField } from "../../../shared/fields/NumberField";

type Props = {
  value: number | null;
  onChange: (share: number | null) => void;
  error?: string | undefined;
};

/** The share of parts that should come out whole, typed in percent. */
export function WholeShare({ value, onChange, error }: Props) {
  return (
    <NumberField
      label="Parts that should come out whole"
      unit="%"
      value={value === null ? null : Math.round(1e6 * value) / 1e4}
      onChange={(percent) => onChange(percent === null ? null : percent / 100)}
      error={error && "More than 50 and less than 100 %."}
      hint="The nearer to 100 %, the more parts it takes to show it"
    />
  );
}
