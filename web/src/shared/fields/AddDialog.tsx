import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import type { ApiError } from "../api/client";
import { Trouble } from "../Trouble";

type Props = { title: string; action?: string; saving: boolean; error: ApiError | null; onAdd: () => void; onClose: () => void; children: ReactNode };

/** A few fields that make something new; a refusal that belongs to no field stands below them. */
export function AddDialog({ title, action = "Add it", saving, error, onAdd, onClose, children }: Props) {
  return (
    <Modal show onHide={onClose} aria-label={title}>
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          onAdd();
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="h3 m-0">
            {title}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-grid gap-3">
          {children}
          <Trouble error={error && !Object.keys(error.fields).length ? error : null} />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={saving}>
            {action}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
