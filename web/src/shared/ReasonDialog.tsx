import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import type { ApiError } from "./api/client";
import { Trouble } from "./Trouble";

type Props = {
  title: string;
  label: string;
  action: string;
  saving: boolean;
  error: ApiError | null;
  children?: ReactNode;
  onClose: () => void;
  onSave: (reason: string) => void;
};

/** Asks for a reason that is recorded with the step. */
export function ReasonDialog({ title, label, action, saving, error, children, onClose, onSave }: Props) {
  const [reason, setReason] = useState("");
  const problem = error?.fields.reason && "Give the reason in a few words.";
  return (
    <Modal show onHide={onClose} aria-labelledby="reason-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          onSave(reason);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="reason-title" className="h3 m-0">
            {title}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {children}
          <Form.Group controlId="reason">
            <Form.Label>{label}</Form.Label>
            <Form.Control as="textarea" rows={2} autoFocus value={reason} isInvalid={Boolean(problem)} onChange={(event) => setReason(event.target.value)} />
            <Form.Control.Feedback type="invalid">{problem}</Form.Control.Feedback>
          </Form.Group>
          <Trouble error={error && !problem ? error : null} className="mt-2" />
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
