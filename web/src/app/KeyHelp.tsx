import Modal from "react-bootstrap/Modal";
import { Link, useLocation } from "react-router";
import { Drawing, GLOSSARY } from "../shared/glossary";
import { StateMark } from "../shared/StateMark";
import { helpAt, type PageHelp } from "./help";
import { SECTIONS } from "./sections";
import { useShownShortcuts } from "./shortcuts";
import "./help.scss";

/** Help for the page one is on: what it answers, how to go about it, its marks and words; then all keys. */
export function KeyHelp({ show, onClose }: { show: boolean; onClose: () => void }) {
  const { pathname } = useLocation();
  const about = helpAt(pathname);
  const page = useShownShortcuts().filter((one) => one.does);
  const everywhere = [
    { keys: "/", does: "find anything" },
    { keys: "0–9", does: "type or scan a coupon code to open its reading" },
    ...SECTIONS.map((section) => ({ keys: `g ${section.key}`, does: `go to ${section.name}` })),
    { keys: "?", does: "help and keys" },
    { keys: "Esc", does: "close what is open" },
  ];
  return (
    <Modal show={show} onHide={onClose} size="lg" scrollable aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="keys-title" className="h3 m-0">
          {about?.answers ?? "Help"}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {about && <About help={about} onClose={onClose} />}
        <div className="help-keys">
          {page.length > 0 && (
            <section aria-label="Keys on this page">
              <h3>Keys on this page</h3>
              <KeyList keys={page} />
            </section>
          )}
          <section aria-label="Keys everywhere">
            <h3>Keys everywhere</h3>
            <KeyList keys={everywhere} />
          </section>
        </div>
      </Modal.Body>
    </Modal>
  );
}

function About({ help, onClose }: { help: PageHelp; onClose: () => void }) {
  return (
    <>
      <ol className="mb-3">
        {help.task.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      {help.marks && (
        <p className="d-flex flex-wrap gap-3 mb-3" aria-label="Marks">
          {help.marks.map((mark) => (
            <StateMark key={mark} name={mark} />
          ))}
        </p>
      )}
      <dl className="help-words">
        {help.words.map((key) => (
          <div key={key}>
            <Drawing of={key} />
            <div>
              <dt>{GLOSSARY[key].word}</dt>
              <dd>{GLOSSARY[key].meaning}</dd>
            </div>
          </div>
        ))}
      </dl>
      <p>
        <Link to="/lab/glossary" onClick={onClose}>
          All words
        </Link>
      </p>
    </>
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
