import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { Loaded } from "../../shared/Loading";
import { VatDrawing } from "../../shared/vat/VatDrawing";
import { BlendTabs } from "./BlendTabs";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";

/** What is in each printer now. */
export default function VatsPage() {
  const vats = useGet("/api/vats", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Blend">
        <Link className="btn btn-primary d-inline-flex align-items-center" to="/blend/new">
          Write a recipe
        </Link>
      </PageHead>
      <BlendTabs />
      <Loaded query={vats}>
        {(held) =>
          held.length ? (
            <div className="vats">
              {held.map((one) => (
                <VatPanel key={one.printer_id} vat={one} />
              ))}
            </div>
          ) : (
            <EmptyState purpose="Each printer's vat stands here with what is in it, by component and lot.">
              <Link className="btn btn-primary" to="/shelf/printers?new=1">
                Add a printer
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function VatPanel({ vat }: { vat: Schemas["VatView"] }) {
  return (
    <section className="panel" aria-label={`Vat of ${vat.printer}`}>
      <div className="d-flex align-items-baseline gap-2">
        <h2 className="me-auto mb-0">{vat.printer}</h2>
        <Link to={`/blend/vat/${vat.printer_id}`}>Open</Link>
      </div>
      <VatWords vat={vat} />
      <VatDrawing
        name={`Vat of ${vat.printer}`}
        capacity={vat.capacity_ml}
        fillLine={vat.fill_line_ml}
        layers={vat.layers.map((one) => ({ name: one.material, volume_ml: one.volume_ml }))}
      />
    </section>
  );
}

/** What it is called, how long it stands, and what it asks for. */
export function VatWords({ vat }: { vat: Schemas["VatView"] }) {
  const full = vat.volume_ml > 0.5;
  return (
    <>
      <p className="mb-2">
        {full ? (
          <b>
            {vat.is_called ?? (vat.contamination ? `contaminated: ${vat.contamination}` : "a mixture without a name")}
          </b>
        ) : (
          <span className="text-secondary">Nothing is noted in it yet.</span>
        )}
        {full && vat.standing_h !== null && (
          <span className="text-secondary"> · in the vat for {hours(vat.standing_h)}</span>
        )}
      </p>
      {vat.over_limit && <p className="trouble mb-2">{vat.over_limit}</p>}
      {vat.stir_due && (
        <p className="caution mb-2">
          It has stood {hours(vat.stirred_h ?? vat.standing_h ?? 0)} without a stir: settled pigment looks exactly like
          a wrong exposure.
        </p>
      )}
    </>
  );
}

export const hours = (value: number) => (value < 48 ? `${value.toFixed(0)} h` : `${(value / 24).toFixed(0)} days`);
