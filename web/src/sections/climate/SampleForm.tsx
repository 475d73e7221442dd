import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { Trouble } from "../../shared/Trouble";

/** What a thermometer shows, typed; a jump that air cannot make is asked about. */
export function SampleForm({ probe, onClose }: { probe: Schemas["ProbeView"]; onClose: () => void }) {
  const say = useSay();
  const [temp, setTemp] = useState<number | null>(null);
  const [sure, setSure] = useState(false);
  const send = useSend(
    (_: null, headers) => body(POST("/api/probes/{probe_id}/samples", { params: { path: { probe_id: probe.id } }, body: { temp_c: temp!, humidity_pct: null, sure }, headers })),
    (made) => {
      say(`${made.name}: ${temp} °C is noted.`);
      onClose();
    },
  );
  const jumped = send.error?.fields.temp_c;
  return (
    <Modal show onHide={onClose} aria-labelledby="sample-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (temp !== null) send.mutate(null);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="sample-title" className="h3 m-0">
            {probe.name}, {probe.place}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <NumberField autoFocus label="Temperature" unit="°C" value={temp} onChange={setTemp} error={jumped} />
          {jumped && <Form.Check id="sample-sure" className="mt-2" label="It is right all the same" checked={sure} onChange={(event) => setSure(event.target.checked)} />}
          <Trouble error={send.error && !jumped ? send.error : null} className="mt-2" />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={send.isPending || temp === null}>
            Note it
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
