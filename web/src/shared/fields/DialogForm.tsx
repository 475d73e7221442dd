import type { ReactNode } from "react";
import Form from "react-bootstrap/Form";

type Props = { onSave: () => void; className?: string; children: ReactNode };

/**
 * The form inside a dialog. A dialog may be opened from a form, and React hands what happens in it on to that form:
 * saving the dialog ends in the dialog.
 */
export function DialogForm({ onSave, className, children }: Props) {
  return (
    <Form
      noValidate
      className={className}
      onSubmit={(event) => {
        event.preventDefault();
        event.stopPropagation();
        onSave();
      }}
    >
      {children}
    </Form>
  );
}
