import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import type { ApiError } from "../api/client";
import { Trouble } from "../Trouble";
import { DialogForm } from "./DialogForm";

type Props = {
  title: string;
  action?: string;
  saving: boolean;
  /** Shown below the fields when it belongs to none of them. */
  error: ApiError | null;
  /** Whether what was given so far can be sent at all. */
  ready?: boolean;
  large?: boolean;
  onSave: () => void;
  onClose: () => void;
  children: ReactNode;
};

/** A few fields over the page, and the one step they are for. */
export function FormDialog({
  title,
  action = "Add it",
  saving,
  error,
  ready = true,
  large,
  onSave,
  onClose,
  children,
}: Props) {
  const [entered, setEntered] = useState(false);
  const [asking, setAsking] = useState(false);
  const leave = () => (entered ? setAsking(true) : onClose());
  return (
    <Modal show size={large ? "lg" : undefined} onHide={leave} aria-label={title} onInput={() => setEntered(true)}>
      <DialogForm onSave={() => ready && !saving && onSave()}>
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="h3 m-0">
            {title}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-grid gap-3">
          {children}
          <Trouble error={error && !Object.keys(error.fields).length ? error : null} />
        </Modal.Body>
        {asking && (
          <div className="caution mx-3 mb-0" role="alertdialog" aria-label="Discard what you entered?">
            <p className="mb-2">What you entered is not saved.</p>
            <div className="d-flex gap-2">
              <Button size="sm" autoFocus onClick={() => setAsking(false)}>
                Go on entering
              </Button>
              <Button size="sm" variant="quiet" onClick={onClose}>
                Discard it
              </Button>
            </div>
          </div>
        )}
        <Modal.Footer>
          <Button type="submit" disabled={saving || !ready}>
            {action}
          </Button>
        </Modal.Footer>
      </DialogForm>
    </Modal>
  );
}
