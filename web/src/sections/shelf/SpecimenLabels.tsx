import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { LabelsDialog } from "../../shared/labels/LabelsDialog";
import { useGet } from "../../shared/api/useGet";

/** Numbered labels for specimens of one kind and material. */
export function SpecimenLabels({ kind, title, onClose }: { kind: string; title: string; onClose: () => void }) {
  const entry = useEntry({
    material_id: "",
    printer_id: "",
    exposure_s: null as number | null,
    prefix: "S",
    first: 1 as number | null,
    count: 12 as number | null,
  });
  const { field } = entry.checked();
  const { material_id, printer_id, exposure_s, prefix, first, count } = entry.values;
  const query = { params: { query: { retired: false, limit: 200, after: "" } } };
  const resins = useGet("/api/resins", query, { select: (answer) => answer.items });
  const printers = useGet("/api/printers", query, { select: (answer) => answer.items });
  const badPrefix = /^[A-Za-z0-9-]{1,8}$/.test(prefix) ? undefined : "Up to eight letters, digits or hyphens.";
  const whole = (value: number | null, most: number) =>
    value !== null && Number.isInteger(value) && value >= 1 && value <= most ? undefined : `Give 1 to ${most}.`;
  const href = (paper: string) =>
    `/api/labels/specimens?${new URLSearchParams({ kind, material_id, prefix, first: String(first), count: String(count), ...(printer_id && { printer_id }), ...(exposure_s && { exposure_s: String(exposure_s) }) }).toString()}&${paper}`;
  return (
    <LabelsDialog
      title={`Labels: ${title.toLowerCase()}`}
      href={href}
      ready={Boolean(material_id) && !badPrefix && !whole(first, 9999) && !whole(count, 400)}
      onClose={onClose}
    >
      <Choice
        label="Material"
        {...field("material_id")}
        options={(resins.data ?? []).map((one) => [one.id, one.name])}
      />
      <div className="row g-2">
        <div className="col-6">
          <Choice
            label="Printer"
            {...field("printer_id")}
            none="not noted"
            options={(printers.data ?? []).map((one) => [one.id, one.name])}
          />
        </div>
        <NumberField className="col-6" label="Exposure" unit="s" {...field("exposure_s")} />
        <TextField className="col-4" label="Mark" {...field("prefix")} error={badPrefix} />
        <NumberField className="col-4" label="From" {...field("first")} error={whole(first, 9999)} />
        <NumberField className="col-4" label="How many" {...field("count")} error={whole(count, 400)} />
      </div>
    </LabelsDialog>
  );
}
