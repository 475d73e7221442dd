import Form from "react-bootstrap/Form";
import { useGet } from "../../shared/api/useGet";
import { THIN } from "../../shared/format";

/** A photo, or a scan with its resolution: sizes are told by a scan only. */
export function ScannerChoice({ value, onChange }: { value: number | null; onChange: (dpi: number | null) => void }) {
  const resolutions = useGet("/api/file-limits", {}, { staleTime: Infinity }).data?.scanner_dpi ?? [];
  return (
    <Form.Select
      className="w-auto"
      aria-label="What took it"
      value={value ?? ""}
      onChange={(event) => onChange(Number(event.target.value) || null)}
    >
      <option value="">photo</option>
      {resolutions.map((dpi) => (
        <option key={dpi} value={dpi}>
          scan, {dpi}
          {THIN}dpi
        </option>
      ))}
    </Form.Select>
  );
}
