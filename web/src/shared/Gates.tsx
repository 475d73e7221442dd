import Button from "react-bootstrap/Button";
import { useSay } from "../app/toasts";
import { body, POST, type Schemas } from "./api/client";
import { useSend } from "./api/useSend";
import { Trouble } from "./Trouble";

const DONE: Record<string, string> = { vat: "Vat searched, film checked", lift: "The lift is back on" };

/** What holds up the next print on a printer, each with the one thing that clears it. */
export function Gates({ gates }: { gates: Schemas["GateView"][] }) {
  return gates.map((gate) => <Gate key={`${gate.kind} ${gate.print_id}`} gate={gate} />);
}

function Gate({ gate }: { gate: Schemas["GateView"] }) {
  const say = useSay();
  const clear = useSend(
    (_: null) => {
      const path = { params: { path: { print_id: gate.print_id } } };
      return body(
        gate.kind === "vat"
          ? POST("/api/prints/{print_id}/vat-searched", path)
          : POST("/api/prints/{print_id}/lift-back", path),
      );
    },
    () => say(`${DONE[gate.kind]}: noted for ${gate.code}.`),
  );
  return (
    <div className="trouble mb-3" role="alert">
      <p className="mb-2">{gate.message}</p>
      <Button size="sm" disabled={clear.isPending} onClick={() => clear.mutate(null)}>
        {DONE[gate.kind]}
      </Button>
      <Trouble error={clear.error} className="mt-2" />
    </div>
  );
}
