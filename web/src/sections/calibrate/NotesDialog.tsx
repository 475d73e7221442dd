import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import { body, GET, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { TextField } from "../../shared/fields/TextField";
import { Trouble } from "../../shared/Trouble";
import type { Calibration } from "./model";

const PAGE = { retired: false, after: "", limit: 200 };

/** Correct which bottle and finish route this calibration is made with, and its note. */
export function NotesDialog({ calibration, onClose }: { calibration: Calibration; onClose: () => void }) {
  const say = useSay();
  const [bottle, setBottle] = useState(calibration.bottle_id ?? "");
  const [route, setRoute] = useState(calibration.finish_route_id ?? "");
  const [note, setNote] = useState(calibration.note);
  const bottles = useQuery({
    queryKey: ["bottles of", calibration.material_id],
    queryFn: () => body(GET("/api/bottles", { params: { query: { ...PAGE, material_id: calibration.material_id } } })),
  });
  const routes = useQuery({ queryKey: ["routes"], queryFn: () => body(GET("/api/finish-routes", { params: { query: PAGE } })) });
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/calibrations/{calibration_id}/notes", {
          params: { path: { calibration_id: calibration.id } },
          body: { version: calibration.version, bottle_id: bottle || null, finish_route_id: route || null, note },
        }),
      ),
    () => {
      say("Saved.");
      onClose();
    },
  );
  const errors = save.error?.fields ?? {};
  return (
    <Modal show onHide={onClose} aria-labelledby="notes-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(null);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="notes-title" className="h3 m-0">
            Bottle, finish route, note
          </Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-grid gap-3">
          <Choice label="Bottle" value={bottle} onChange={setBottle} error={errors.bottle_id} none="not noted" options={bottles.data?.items.map((one) => [one.id, `${one.code}, lot ${one.lot}`]) ?? []} />
          <Choice label="Finish route" value={route} onChange={setRoute} error={errors.finish_route_id} none="not noted" options={routes.data?.items.map((one) => [one.id, one.name]) ?? []} />
          <TextField label="Note" value={note} onChange={setNote} lines={3} />
          <Trouble error={save.error && !Object.keys(errors).length ? save.error : null} />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={save.isPending}>
            Save
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
