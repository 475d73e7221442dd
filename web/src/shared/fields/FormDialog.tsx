import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import type { ApiError } from "../api/client";
import { Trouble } from "../Trouble";
import { DialogForm } from "./DialogForm";
import { useLeaving } from "./useLeaving";

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
  const { leave, onInput, question } = useLeaving(onClose);
  return (
    <Modal show size={large ? "lg" : undefined} onHide={leave} aria-label={title} onInput={onInput}>
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
        {question}
        <Modal.Footer>
          <Button type="submit" disabled={saving || !ready}>
            {action}
          </Button>
        </Modal.Footer>
      </DialogForm>
    </Modal>
  );
}
