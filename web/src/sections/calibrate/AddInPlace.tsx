import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EntryForm } from "../../shared/fields/EntryForm";
import { BOTTLES, ROUTES } from "../shelf/kinds";

type Props = {
  materials: { id: string; name: string }[];
  material_id: string;
  onBottle: (id: string) => void;
  onRoute: (id: string) => void;
};

/** What is not on the Shelf yet is added from where it is chosen, and is chosen then. */
export function AddInPlace({ materials, material_id, onBottle, onRoute }: Props) {
  const [adding, setAdding] = useState<"bottle" | "route" | null>(null);
  const bottle = useSend(
    (values: Record<string, unknown>, headers) => BOTTLES.add(values, headers) as Promise<Schemas["Bottle"]>,
    (added) => {
      setAdding(null);
      onBottle(added.id);
    },
  );
  const route = useSend(
    (values: Record<string, unknown>, headers) => ROUTES.add(values, headers) as Promise<Schemas["FinishRoute"]>,
    (added) => {
      setAdding(null);
      onRoute(added.id);
    },
  );
  return (
    <div className="d-flex gap-3 mt-2">
      <Button variant="link" className="p-0" disabled={!material_id} onClick={() => setAdding("bottle")}>
        Add a bottle…
      </Button>
      <Button variant="link" className="p-0" onClick={() => setAdding("route")}>
        Add a finish route…
      </Button>
      {adding === "bottle" && (
        <EntryForm
          title="Add a bottle"
          fields={BOTTLES.fields(materials as Parameters<typeof BOTTLES.fields>[0])}
          values={{ ...BOTTLES.fresh, material_id }}
          saving={bottle.isPending}
          error={bottle.error}
          onSave={(values) => bottle.mutate(values)}
          onClose={() => setAdding(null)}
        />
      )}
      {adding === "route" && (
        <EntryForm
          title="Add a finish route"
          fields={ROUTES.fields([])}
          values={ROUTES.fresh}
          saving={route.isPending}
          error={route.error}
          onSave={(values) => route.mutate(values)}
          onClose={() => setAdding(null)}
        />
      )}
    </div>
  );
}
