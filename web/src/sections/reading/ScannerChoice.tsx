import Form from "react-bootstrap/Form";
import { useGet } from "../../shared/api/useGet";
import { THIN } from "../../shared/format";

type Props = {
  value: number | null;
  /** A photo of it cannot be read. */
  scansOnly?: boolean;
  onChange: (dpi: number | null) => void;
};

/** A photo, or a scan with its resolution: sizes are told by a scan only. */
export function ScannerChoice({ value, scansOnly, onChange }: Props) {
  const resolutions = useGet("/api/file-limits", {}, { staleTime: Infinity }).data?.scanner_dpi ?? [];
  return (
    <Form.Select
      className="w-auto"
      aria-label="What took it"
      value={value ?? ""}
      onChange={(event) => onChange(Number(event.target.value) || null)}
    >
      <option value="">{scansOnly ? "scan, at…" : "photo"}</option>
      {resolutions.map((dpi) => (
        <option key={dpi} value={dpi}>
          scan, {dpi}
          {THIN}dpi
        </option>
      ))}
    </Form.Select>
  );
}
