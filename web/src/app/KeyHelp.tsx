import Modal from "react-bootstrap/Modal";
import { SECTIONS } from "./sections";
import { useShownShortcuts } from "./shortcuts";

/** All keys: those of every screen, and those of this one. */
export function KeyHelp({ show, onClose }: { show: boolean; onClose: () => void }) {
  const page = useShownShortcuts().filter((one) => one.does);
  const everywhere = [
    { keys: "/", does: "find anything" },
    { keys: "0–9", does: "type or scan a coupon code to open its reading" },
    ...SECTIONS.map((section) => ({ keys: `g ${section.key}`, does: `go to ${section.name}` })),
    { keys: "?", does: "this list" },
    { keys: "Esc", does: "close what is open" },
  ];
  return (
    <Modal show={show} onHide={onClose} aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="keys-title" className="h3 m-0">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {page.length > 0 && <h3>On this page</h3>}
        <KeyList keys={page} />
        <h3 className="mt-3">Everywhere</h3>
        <KeyList keys={everywhere} />
      </Modal.Body>
    </Modal>
  );
}

function KeyList({ keys }: { keys: { keys: string; does: string }[] }) {
  return (
    <dl className="row mb-0">
      {keys.map((one) => (
        <div className="d-flex gap-3 py-1" key={one.keys}>
          <dt style={{ width: "6rem", flex: "none" }}>
            <span className="kbd">{one.keys}</span>
          </dt>
          <dd className="mb-0">{one.does}</dd>
        </div>
      ))}
    </dl>
  );
}
