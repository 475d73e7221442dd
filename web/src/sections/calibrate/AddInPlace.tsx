import type { Schemas } from "../../shared/api/client";
import { AddToShelf } from "../shelf/AddToShelf";
import { BOTTLES, ROUTES } from "../shelf/kinds";

type Props = {
  materials: { id: string; name: string }[];
  material_id: string;
  onBottle: (id: string) => void;
  onRoute: (id: string) => void;
};

/** A bottle or finish route that is not on the Shelf yet is added from where it is chosen, and is chosen then. */
export function AddInPlace({ materials, material_id, onBottle, onRoute }: Props) {
  return (
    <div className="d-flex gap-3 mt-2">
      <AddToShelf
        kind={BOTTLES}
        label="Add a bottle…"
        materials={materials as Schemas["Resin"][]}
        values={{ material_id }}
        disabled={!material_id}
        onAdded={({ id }) => onBottle(id)}
      />
      <AddToShelf kind={ROUTES} label="Add a finish route…" onAdded={({ id }) => onRoute(id)} />
    </div>
  );
}
