import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { Trouble } from "../../shared/Trouble";

/** Something bought in, to compare with: it has no set and no exposure. */
export function NewReference({ onMade, onClose }: { onMade: (id: string) => void; onClose: () => void }) {
  const [name, setName] = useState("");
  const [what, setWhat] = useState("");
  const [price, setPrice] = useState<number | null>(null);
  const send = useSend((_: null, headers) => body(POST("/api/reference-materials", { body: { name, what, price_per_l: price }, headers })), (made) => onMade(made.id));
  const errors = send.error?.fields ?? {};
  const text = (id: string, label: string, value: string, onValue: (value: string) => void, placeholder: string) => (
    <Form.Group controlId={`reference-${id}`}>
      <Form.Label>{label}</Form.Label>
      <Form.Control value={value} placeholder={placeholder} isInvalid={Boolean(errors[id])} onChange={(event) => onValue(event.target.value)} />
      <Form.Control.Feedback type="invalid">{errors[id]}</Form.Control.Feedback>
    </Form.Group>
  );
  return (
    <Modal show onHide={onClose} aria-labelledby="reference-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="reference-title" className="h3 m-0">
          Something bought in
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="d-grid gap-3">
        {text("name", "Name", name, setName, "Sawn sheet")}
        {text("what", "What it is", what, setWhat, "4 mm sheet, sawn and filed")}
        <NumberField label="Price of a litre of it" unit="/l" value={price} onChange={setPrice} error={errors.price_per_l} />
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
