import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { useTaken } from "../../app/useInstruments";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { EntryForm, type FieldSpec } from "../../shared/fields/EntryForm";
import { duration, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import "./atHand.scss";

type Instrument = Schemas["InstrumentView"];
type Input = Schemas["InstrumentInput"];
const KINDS = ["probe", "light meter", "caliper", "force gauge", "scale"].map((value) => ({ value, name: value }));
const CONNECTIONS = [
  { value: "http", name: "over the network" },
  { value: "serial", name: "a serial line of the server" },
];
const FIELDS: FieldSpec[] = [
  { type: "text", name: "name", label: "Name", required: true },
  { type: "choice", name: "kind", label: "What it measures with", options: KINDS, required: true, half: true },
  { type: "choice", name: "connection", label: "How it is reached", options: CONNECTIONS, required: true, half: true },
  {
    type: "text",
    name: "address",
    label: "Address or line",
    hint: "http://192.168.1.20/reading, or /dev/ttyUSB0",
    required: true,
  },
  { type: "number", name: "baud", label: "Speed of the serial line, baud" },
  { type: "check", name: "is_on", label: "The server reads it" },
];
const NEW = { name: "", kind: "caliper", connection: "http", address: "", baud: 9600, is_on: false, version: null };
/** A reading that is older says what was measured then, not what is there now. */
const OLD_S = 60;

/** What do the instruments of the bench show, and whose button fills a field here? */
export default function InstrumentsPage() {
  const query = useGet("/api/instruments", {}, { refetchInterval: 1_000 });
  const [edited, setEdited] = useState<Instrument | "new" | null>(null);
  return (
    <>
      <PageHead title="Instruments" sub="Read by the server itself; nothing is kept until a person saves it">
        <Button onClick={() => setEdited("new")}>Add an instrument</Button>
      </PageHead>
      <Loaded query={query}>
        {({ items }) =>
          items.length ? (
            <div className="at-hand">
              {items.map((one) => (
                <InstrumentPanel key={one.id} instrument={one} onEdit={() => setEdited(one)} />
              ))}
            </div>
          ) : (
            <EmptyState purpose="A caliper, a scale, a force gauge, a light meter or a probe that has a plug or an address is read here. With its button, a caliper or a scale fills the field you stand in.">
              <Button onClick={() => setEdited("new")}>Add an instrument</Button>
            </EmptyState>
          )
        }
      </Loaded>
      {edited && <InstrumentForm instrument={edited === "new" ? null : edited} onClose={() => setEdited(null)} />}
    </>
  );
}

function InstrumentPanel({ instrument, onEdit }: { instrument: Instrument; onEdit: () => void }) {
  const say = useSay();
  const [taken, take] = useTaken();
  const path = { params: { path: { instrument_id: instrument.id } } };
  const change = useSend((is_on: boolean) =>
    body(PUT("/api/instruments/{instrument_id}", { ...path, body: { ...inputOf(instrument), is_on } })),
  );
  const out = useSend(
    (_: null) => body(POST("/api/instruments/{instrument_id}/retire", path)),
    () => say(`${instrument.name} is removed.`),
  );
  const isTaken = taken.includes(instrument.id);
  return (
    <section className="panel" aria-label={instrument.name}>
      <h2 className="mb-0">{instrument.name}</h2>
      <p className="text-secondary mb-2">
        {instrument.kind} · {instrument.address}
      </p>
      <Now instrument={instrument} />
      {instrument.is_on && instrument.fills_fields && (
        <Form.Check
          id={`take-${instrument.id}`}
          className="mb-2"
          label="Its button fills the field I stand in, in this browser"
          checked={isTaken}
          onChange={() => take(isTaken ? taken.filter((one) => one !== instrument.id) : [...taken, instrument.id])}
        />
      )}
      <div className="d-flex flex-wrap gap-2">
        <Button variant="quiet" disabled={change.isPending} onClick={() => change.mutate(!instrument.is_on)}>
          {instrument.is_on ? "Switch off" : "Switch on"}
        </Button>
        <Button variant="quiet" onClick={onEdit}>
          Change…
        </Button>
        <Button variant="quiet" disabled={out.isPending} onClick={() => out.mutate(null)}>
          Remove
        </Button>
      </div>
      <Trouble error={change.error ?? out.error} className="mt-2" />
    </section>
  );
}

function Now({ instrument: { is_on, value, decimals, unit, age_s, fault } }: { instrument: Instrument }) {
  if (!is_on) return <p>Off: the server does not read it.</p>;
  return (
    <>
      {fault && <p className="trouble mb-2">{fault}</p>}
      {value === null ? (
        !fault && <p>Nothing measured yet.</p>
      ) : (
        <p className={`mb-2 ${(age_s ?? 0) > OLD_S ? "text-secondary" : ""}`}>
          <span className="num fs-3">
            {value.toFixed(decimals)}
            {THIN}
            {unit}
          </span>{" "}
          <span className="text-secondary">{(age_s ?? 0) < 2 ? "now" : `${duration(age_s ?? 0)} ago`}</span>
        </p>
      )}
    </>
  );
}

const inputOf = ({ name, kind, connection, address, baud, is_on, version }: Instrument): Input => ({
  name,
  kind,
  connection,
  address,
  baud,
  is_on,
  version,
});

function InstrumentForm({ instrument, onClose }: { instrument: Instrument | null; onClose: () => void }) {
  const say = useSay();
  const save = useSend(
    (values: Input, headers) =>
      instrument
        ? body(
            PUT("/api/instruments/{instrument_id}", {
              params: { path: { instrument_id: instrument.id } },
              body: values,
              headers,
            }),
          )
        : body(POST("/api/instruments", { body: values, headers })),
    (saved) => {
      say(`${saved.name} is ${instrument ? "changed" : "added"}.`);
      onClose();
    },
  );
  return (
    <EntryForm
      title={instrument ? instrument.name : "Add an instrument"}
      fields={FIELDS}
      values={instrument ? inputOf(instrument) : NEW}
      version={instrument?.version}
      saving={save.isPending}
      error={save.error}
      // The form holds the fields of the input and no others.
      onSave={(values) => save.mutate(values as Input)}
      onClose={onClose}
    />
  );
}
