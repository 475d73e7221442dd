import { useState } from "react";
import { useSay } from "../app/toasts";
import { body, PUT, type Schemas } from "./api/client";
import { useSend } from "./api/useSend";
import { FormDialog } from "./fields/FormDialog";
import { NumberField } from "./fields/NumberField";
import { useGet } from "./api/useGet";

type CutOffs = Schemas["CutOffsView"];
type Name = Exclude<keyof CutOffs, "version">;

const FIELDS: { name: Name; label: string; hint: string }[] = [
  { name: "offer", label: "An exposure is offered from", hint: "Chance that all requirements hold" },
  { name: "nominal", label: "Nominal size is offered from", hint: "Where the rest holds with this chance" },
  { name: "lanes", label: "Support-safe and hardest keep", hint: "The requirements of one side, with this chance" },
  { name: "none", label: "No exposure is right below", hint: "Chance that any printed exposure holds" },
];

/** How sure this lab wants to be: one setting for all its calibrations. */
export function CutOffsDialog({ onClose }: { onClose: () => void }) {
  const query = useGet("/api/cut-offs");
  return query.data ? <CutOffsForm held={query.data} onClose={onClose} /> : null;
}

function CutOffsForm({ held, onClose }: { held: CutOffs; onClose: () => void }) {
  const say = useSay();
  const [given, setGiven] = useState<Record<keyof CutOffs, number | null>>({ ...held });
  const undo = useSend((_: null) => body(PUT("/api/cut-offs", { body: { ...held, version: held.version + 1 } })));
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/cut-offs", {
          // The server says which one is missing.
          body: given as CutOffs,
        }),
      ),
    () => {
      say("Every calibration is judged by these cut-offs now; issued sets keep theirs.", () => undo.mutate(null));
      onClose();
    },
  );
  const errors = save.error?.fields ?? {};
  return (
    <FormDialog
      title="How sure an offer must be"
      action="Save"
      saving={save.isPending}
      error={save.error}
      ready={Object.values(given).every((value) => value !== null)}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0 text-secondary">For all calibrations of this lab.</p>
      {FIELDS.map(({ name, label, hint }) => (
        <NumberField
          key={name}
          label={label}
          unit="%"
          value={given[name] === null ? null : Number((100 * given[name]).toPrecision(4))}
          onChange={(value) => setGiven({ ...given, [name]: value === null ? null : value / 100 })}
          error={errors[name]}
          hint={hint}
        />
      ))}
      <NumberField
        label="Coupons after which it is too narrow to settle"
        value={given.most_coupons}
        onChange={(value) => setGiven({ ...given, most_coupons: value })}
        error={errors.most_coupons}
        hint={"With neither answer; 16 unless changed"}
      />
    </FormDialog>
  );
}
