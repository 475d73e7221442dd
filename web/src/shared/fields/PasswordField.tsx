import { TextField } from "./TextField";

type Props = {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** One that is chosen now: nothing is filled in for it. */
  isNew?: boolean;
  autoFocus?: boolean;
  hint?: string;
  error?: string | false | null;
};

/** Somebody's password: never shown, and filled in by what the browser keeps, where one is there already. */
export function PasswordField({ isNew, ...field }: Props) {
  return <TextField {...field} type="password" autoComplete={isNew ? "new-password" : "current-password"} />;
}

/** A PIN: digits that are never shown and nobody keeps. */
export function PinField(field: Omit<Props, "isNew">) {
  return <TextField {...field} type="password" inputMode="numeric" autoComplete="off" />;
}
