import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSend } from "../../shared/api/useSend";
import { EntryForm } from "../../shared/fields/EntryForm";
import { PRINTERS, RESINS, type ShelfKind } from "../shelf/kinds";

type Entry = { id: string; code: string; retired_at: string | null };
const KINDS = { material: RESINS, printer: PRINTERS } as unknown as Record<string, ShelfKind<Entry> | undefined>;

/** A material or printer of the table that is not on the Shelf yet is added from here, under the table's own name. */
export function AddNamed({ field, name, onAdded }: { field: string; name: string; onAdded: (id: string) => void }) {
  const [open, setOpen] = useState(false);
  const kind = KINDS[field];
  const add = useSend(
    (values: Record<string, unknown>, headers) => {
      if (!kind) throw new Error(`A ${field} is not added here.`);
      return kind.add(values, headers);
    },
    (added) => {
      setOpen(false);
      onAdded(added.id);
    },
  );
  if (!kind) return null;
  return (
    <>
      <Button variant="link" className="p-0 mt-1" onClick={() => setOpen(true)}>
        Add {name} to the shelf…
      </Button>
      {open && (
        <EntryForm
          title={`Add a ${kind.one}`}
          fields={kind.fields([])}
          values={{ ...kind.fresh, name }}
          saving={add.isPending}
          error={add.error}
          caution={kind.caution}
          onSave={(values) => add.mutate(values)}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}
