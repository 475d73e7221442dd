import { Choice } from "../../shared/fields/Choice";
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { NumberField } from "../../shared/fields/NumberField";
import { LabelsDialog } from "../../shared/labels/LabelsDialog";
import { useGet } from "../../shared/api/useGet";

/** Numbered labels for specimens of one kind and material. */
export function SpecimenLabels({ kind, title, onClose }: { kind: string; title: string; onClose: () => void }) {
  const [material, setMaterial] = useState("");
  const [printer, setPrinter] = useState("");
  const [exposure, setExposure] = useState<number | null>(null);
  const [prefix, setPrefix] = useState("S");
  const [first, setFirst] = useState<number | null>(1);
  const [count, setCount] = useState<number | null>(12);
  const query = { params: { query: { retired: false, limit: 200, after: "" } } };
  const resins = useGet("/api/resins", query, { select: (answer) => answer.items });
  const printers = useGet("/api/printers", query, { select: (answer) => answer.items });
  const badPrefix = /^[A-Za-z0-9-]{1,8}$/.test(prefix) ? undefined : "Up to eight letters, digits or hyphens.";
  const whole = (value: number | null, most: number) =>
    value !== null && Number.isInteger(value) && value >= 1 && value <= most ? undefined : `Give 1 to ${most}.`;
  const href = (paper: string) =>
    `/api/labels/specimens?${new URLSearchParams({ kind, material_id: material, prefix, first: String(first), count: String(count), ...(printer ? { printer_id: printer } : {}), ...(exposure ? { exposure_s: String(exposure) } : {}) }).toString()}&${paper}`;
  return (
    <LabelsDialog
      title={`Labels: ${title.toLowerCase()}`}
      href={href}
      ready={Boolean(material) && !badPrefix && !whole(first, 9999) && !whole(count, 400)}
      onClose={onClose}
    >
      <Choice
        label="Material"
        value={material}
        onChange={setMaterial}
        options={(resins.data ?? []).map((one) => [one.id, one.name])}
      />
      <div className="row g-2">
        <div className="col-6">
          <Choice
            label="Printer"
            value={printer}
            none="not said"
            onChange={setPrinter}
            options={(printers.data ?? []).map((one) => [one.id, one.name])}
          />
        </div>
        <NumberField className="col-6" label="Exposure" unit="s" value={exposure} onChange={setExposure} />
        <Form.Group className="col-4" controlId="label-prefix">
          <Form.Label>Mark</Form.Label>
          <Form.Control
            value={prefix}
            isInvalid={Boolean(badPrefix)}
            onChange={(event) => setPrefix(event.target.value)}
          />
          <Form.Control.Feedback type="invalid">{badPrefix}</Form.Control.Feedback>
        </Form.Group>
        <NumberField className="col-4" label="From" value={first} onChange={setFirst} error={whole(first, 9999)} />
        <NumberField className="col-4" label="How many" value={count} onChange={setCount} error={whole(count, 400)} />
      </div>
    </LabelsDialog>
  );
}
