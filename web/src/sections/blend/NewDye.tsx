import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { Trouble } from "../../shared/Trouble";

/** A dye or pigment; what it does to the exposure is measured, or it is not known. */
export function NewDye({ onMade, onClose }: { onMade: (id: string) => void; onClose: () => void }) {
  const [name, setName] = useState("");
  const [what, setWhat] = useState("");
  const [density, setDensity] = useState<number | null>(null);
  const [price, setPrice] = useState<number | null>(null);
  const [effect, setEffect] = useState<number | null>(null);
  const [basis, setBasis] = useState("");
  const send = useSend((_: null, headers) => body(POST("/api/dyes", { body: { name, what, density_g_ml: density, price_per_l: price, ln_exposure_per_percent: effect === null ? null : Math.log(1 + effect / 100), basis: basis.trim() || null }, headers })), (made) => onMade(made.id));
  const errors = send.error?.fields ?? {};
  const text = (id: string, label: string, value: string, onValue: (value: string) => void) => (
    <Form.Group controlId={`dye-${id}`}>
      <Form.Label>{label}</Form.Label>
      <Form.Control value={value} isInvalid={Boolean(errors[id])} onChange={(event) => onValue(event.target.value)} />
      <Form.Control.Feedback type="invalid">{errors[id]}</Form.Control.Feedback>
    </Form.Group>
  );
  return (
    <Modal show onHide={onClose} aria-labelledby="dye-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="dye-title" className="h3 m-0">
          A new dye
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="d-grid gap-3">
        {text("name", "Name", name, setName)}
        {text("what", "What it is", what, setWhat)}
        <NumberField label="Density" unit="g/ml" value={density} onChange={setDensity} error={errors.density_g_ml} />
        <NumberField label="Price" unit="/l" value={price} onChange={setPrice} error={errors.price_per_l} />
        <NumberField label="Measured: exposure rises for each percent by" unit="%" value={effect} onChange={setEffect} error={errors.ln_exposure_per_percent} hint="Leave open when it was never measured" />
        {effect !== null && text("basis", "Measured how", basis, setBasis)}
        <Trouble error={send.error && !Object.keys(errors).length ? send.error : null} />
      </Modal.Body>
      <Modal.Footer>
        <Button disabled={send.isPending} onClick={() => send.mutate(null)}>
          Add it
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
