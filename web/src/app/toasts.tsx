import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Toast from "react-bootstrap/Toast";
import ToastContainer from "react-bootstrap/ToastContainer";

type Said = { id: number; text: string; undo?: () => void };
type Say = (text: string, undo?: () => void) => void;

const Saying = createContext<Say>(() => undefined);
export const useSay = (): Say => useContext(Saying);

const UNDO_MS = 10_000;
const NOTE_MS = 5_000;

/** Quiet notes that something was saved, with undo for ten seconds. */
export function Toasts({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Said[]>([]);
  const drop = useCallback((id: number) => setSaid((all) => all.filter((one) => one.id !== id)), []);
  const say = useCallback<Say>((text, undo) => {
    const id = Date.now() + Math.random();
    // Only what can still be undone stays beside a newer note.
    setSaid((all) => [...all.filter((one) => one.undo).slice(-2), { id, text, undo }]);
  }, []);
  const value = useMemo(() => say, [say]);
  return (
    <Saying.Provider value={value}>
      {children}
      {/* At the foot of the page and in its flow: the page grows by it, so whatever it covers can be scrolled clear of it. */}
      <ToastContainer
        className={`position-sticky bottom-0 start-0 no-print ${said.length ? "p-3" : ""}`}
        style={{ zIndex: 1080 }}
      >
        {said.map((one) => (
          <Toast key={one.id} autohide delay={one.undo ? UNDO_MS : NOTE_MS} onClose={() => drop(one.id)}>
            <Toast.Body className="d-flex align-items-center gap-3" role="status">
              <span className="flex-grow-1">{one.text}</span>
              {one.undo && (
                <Button
                  size="sm"
                  variant="outline-primary"
                  onClick={() => {
                    one.undo?.();
                    // The undoing still sees where it was asked for: away from the fields of the page.
                    setTimeout(() => drop(one.id));
                  }}
                >
                  Undo
                </Button>
              )}
              <Button variant="close" aria-label="Close" onClick={() => drop(one.id)} className="btn-close" />
            </Toast.Body>
          </Toast>
        ))}
      </ToastContainer>
    </Saying.Provider>
  );
}
