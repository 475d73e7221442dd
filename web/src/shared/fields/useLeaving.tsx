import { useState } from "react";
import Button from "react-bootstrap/Button";

/** What was entered over a page is not lost to Esc or a click beside it: it is asked first. */
export function useLeaving(onClose: () => void) {
  const [entered, setEntered] = useState(false);
  const [asking, setAsking] = useState(false);
  return {
    /** Esc, the cross, a click beside. */
    leave: () => (entered ? setAsking(true) : onClose()),
    onInput: () => setEntered(true),
    question: asking && (
      <div className="caution mx-3 mb-2" role="alertdialog" aria-label="Discard what you entered?">
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
    ),
  };
}
