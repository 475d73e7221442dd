import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EntryForm } from "../../shared/fields/EntryForm";
import type { ShelfKind } from "./kinds";

type Props<Row extends { id: string; code: string; retired_at: string | null }> = {
  kind: ShelfKind<Row>;
  /** What the button says. */
  label: string;
  /** What is known of it already. */
  values?: Record<string, unknown>;
  materials?: Schemas["Resin"][];
  disabled?: boolean;
  onAdded: (added: Row) => void;
};

/** What is not on the Shelf yet is added from where it is needed. */
export function AddToShelf<Row extends { id: string; code: string; retired_at: string | null }>({
  kind,
  label,
  values,
  materials = [],
  disabled,
  onAdded,
}: Props<Row>) {
  const [open, setOpen] = useState(false);
  const add = useSend(kind.add, (added) => {
    setOpen(false);
    onAdded(added);
  });
  return (
    <>
      <Button variant="link" className="p-0" disabled={disabled} onClick={() => setOpen(true)}>
        {label}
      </Button>
      {open && (
        <EntryForm
          title={`Add a ${kind.one}`}
          fields={kind.fields(materials)}
          values={{ ...kind.fresh, ...values }}
          saving={add.isPending}
          error={add.error}
          caution={kind.caution}
          onSave={(entered) => add.mutate(entered)}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}
