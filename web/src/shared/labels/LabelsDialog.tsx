import { Choice } from "../fields/Choice";
import { useState, type ReactNode } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { NumberField } from "../fields/NumberField";
import { LabelAddress } from "./LabelAddress";
import { useGet } from "../api/useGet";

type Props = {
  title: string;
  href: (paper: string) => string;
  ready?: boolean;
  children?: ReactNode;
  onClose: () => void;
};

/** Which sheet lies in the printer, then the PDF. */
export function LabelsDialog({ title, href, ready = true, children, onClose }: Props) {
  const usual = useGet("/api/lab-settings", {}, { select: (answer) => answer.label_sheet });
  const [chosen, setChosen] = useState(() => localStorage.getItem("setback.sheet"));
  const sheet = chosen ?? usual.data ?? "24";
  const [skip, setSkip] = useState<number | null>(0);
  const [outlines, setOutlines] = useState(false);
  const sheets = useGet("/api/label-sheets", {}, { select: (answer) => answer.items });
  const most = (sheets.data?.find((one) => one.name === sheet)?.count ?? 24) - 1;
  const wrong = skip === null || !Number.isInteger(skip) || skip < 0 || skip > most ? `Give 0 to ${most}.` : undefined;
  const paper = new URLSearchParams({ sheet, skip: String(skip ?? 0), outlines: String(outlines) }).toString();
  return (
    <Modal show onHide={onClose} aria-labelledby="labels-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="labels-title" className="h3 m-0">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="d-grid gap-3">
        {children}
        <LabelAddress />
        <Choice
          label="Sheet, A4"
          value={sheet}
          onChange={(value) => {
            setChosen(value);
            localStorage.setItem("setback.sheet", value);
          }}
          options={(sheets.data ?? []).map((one) => [one.name, one.words])}
        />
        <NumberField
          label="Labels already taken off"
          value={skip}
          onChange={setSkip}
          error={wrong}
          hint="They are left free"
        />
        <Form.Check
          id="outlines"
          label="Plain paper: draw outlines to cut along"
          checked={outlines}
          onChange={(event) => setOutlines(event.target.checked)}
        />
      </Modal.Body>
      <Modal.Footer>
        {/* eslint-disable-next-line jsx-a11y/anchor-is-valid -- it leads to the file as soon as there is one */}
        <a
          className={`btn btn-primary d-inline-flex align-items-center ${wrong || !ready ? "disabled" : ""}`}
          aria-disabled={Boolean(wrong) || !ready}
          href={wrong || !ready ? undefined : href(paper)}
          download
          onClick={() => setTimeout(onClose, 0)}
        >
          Make the PDF
        </a>
      </Modal.Footer>
    </Modal>
  );
}
