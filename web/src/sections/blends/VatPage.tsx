import { useState } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { millilitres, moment } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import { VatDrawing } from "../../shared/vat/VatDrawing";
import { TopUp } from "./TopUp";
import { VatEntryForm } from "./VatEntryForm";
import { VatWords } from "./VatsPage";
import "../../shared/table/table.scss";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";

/** One vat: what is in it, what to pour, and its ledger. */
export default function VatPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/printers/{printer_id}/vat", { params: { path: { printer_id: id } } });
  return (
    <Loaded page query={query}>
      {(vat) => <Page vat={vat} />}
    </Loaded>
  );
}

const STIR: Schemas["VatInput"] = {
  kind: "stir",
  volume_ml: 0,
  bottle_id: null,
  to_bottle_id: null,
  at: null,
  new_name: null,
  contamination: null,
  note: "",
};

function Page({ vat }: { vat: Schemas["VatView"] }) {
  const say = useSay();
  const path = { params: { path: { printer_id: vat.printer_id } } };
  const stir = useSend(
    (_: null, headers) => body(POST("/api/printers/{printer_id}/vat", { ...path, body: STIR, headers })),
    () => say("Stirred."),
  );
  const [entry, setEntry] = useState<Partial<Schemas["VatInput"]> | null>(null);
  return (
    <>
      <PageHead
        title={`Vat of ${vat.printer}`}
        sub={`${millilitres(vat.volume_ml)} of ${millilitres(vat.capacity_ml)}`}
      >
        {vat.volume_ml > 0.5 && (
          <Button variant="quiet" onClick={() => stir.mutate(null)}>
            Stirred now
          </Button>
        )}
        <Link className="btn btn-quiet" to={`/printers/${vat.printer_id}/guides/change-resin`}>
          Change the resin
        </Link>
        <Link className="btn btn-quiet" to={`/printers/${vat.printer_id}/guides/leak`}>
          Leak or spill
        </Link>
        <Button onClick={() => setEntry({})}>Pour or drain…</Button>
      </PageHead>
      <Trouble error={stir.error} className="mb-3" />
      <p className="caution">
        Gloves, eye protection, ventilation. Resin that goes back into a bottle goes through a strainer; waste is cured
        solid before it is thrown away.
      </p>
      <div className="vat-page">
        <section className="panel" aria-label="What is in it">
          <h2>What is in it</h2>
          <VatWords vat={vat} />
          <VatDrawing
            name={`Vat of ${vat.printer}`}
            capacity={vat.capacity_ml}
            fillLine={vat.fill_line_ml}
            layers={vat.layers.map((one) => ({ name: one.material, volume_ml: one.volume_ml }))}
          />
          {vat.layers.length > 0 && (
            <p className="small text-secondary mb-0">
              Lots: {vat.layers.map((one) => `${one.material} ${one.lots.join(", ")}`).join("; ")}.
            </p>
          )}
        </section>
        <TopUp
          vat={vat}
          onPour={(bottle, volume) => setEntry({ kind: "pour", bottle_id: bottle, volume_ml: volume })}
        />
      </div>
      <Ledger vat={vat} />
      {entry && <VatEntryForm vat={vat} first={entry} onClose={() => setEntry(null)} />}
    </>
  );
}

function Ledger({ vat }: { vat: Schemas["VatView"] }) {
  const [taking, setTaking] = useState<Schemas["LedgerLine"] | null>(null);
  const say = useSay();
  const withdraw = useSend(
    ({ id, reason }: { id: string; reason: string }) =>
      body(POST("/api/vat-entries/{entry_id}/withdraw", { params: { path: { entry_id: id } }, body: { reason } })),
    () => {
      setTaking(null);
      say("The entry is withdrawn; all that follows is worked out again.");
    },
  );
  if (!vat.ledger.length) return null;
  return (
    <section className="panel p-0 mt-3" aria-label="Ledger">
      <div className="data-table px-2">
        <Table aria-label="Ledger">
          <thead>
            <tr>
              <th>When</th>
              <th>What</th>
              <th className="number">Volume</th>
              <th className="number">Then in the vat</th>
              <th>By</th>
              <th aria-label="Actions" />
            </tr>
          </thead>
          <tbody>
            {vat.ledger.map((one) => (
              <tr key={one.id} className={one.withdrawn_reason ? "text-secondary" : ""}>
                <td data-name="When">{moment(one.at)}</td>
                <td data-name="What" className="wide">
                  {one.withdrawn_reason ? (
                    <>
                      <s>{one.words}</s> withdrawn: {one.withdrawn_reason}
                    </>
                  ) : (
                    one.words
                  )}
                  {one.note && <span className="text-secondary"> {one.note}</span>}
                  {one.impossible && <span className="found d-block">▲ {one.impossible}</span>}
                </td>
                <td data-name="Volume" className="number num">
                  {one.volume_ml ? millilitres(one.volume_ml) : ""}
                </td>
                <td data-name="Then in the vat" className="number num">
                  {one.after_ml === null ? "" : millilitres(one.after_ml)}
                </td>
                <td data-name="By">{one.initials}</td>
                <td className="text-end wide">
                  {one.can_withdraw && (
                    <Button variant="link" className="p-0" onClick={() => setTaking(one)}>
                      Withdraw…
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {taking && (
        <ReasonDialog
          title="Withdraw this entry"
          label="Why"
          action="Withdraw it"
          saving={withdraw.isPending}
          error={withdraw.error}
          onClose={() => setTaking(null)}
          onSave={(reason) => withdraw.mutate({ id: taking.id, reason })}
        >
          <p>{taking.words}. The bottle gets its millilitres back, and sets that it lapsed come back.</p>
        </ReasonDialog>
      )}
    </section>
  );
}
