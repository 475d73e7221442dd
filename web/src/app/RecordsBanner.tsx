import Alert from "react-bootstrap/Alert";
import { useGet } from "../shared/api/useGet";

/** Stands over every page, and on every print of it, while records are not what was entered. */
export function RecordsBanner() {
  const standing = useGet("/api/records", {}).data;
  if (!standing || standing.intact) return null;
  return (
    <Alert variant="danger" className="m-3 mb-0" role="alert">
      <Alert.Heading as="p" className="h4 mb-1">
        Records do not match the journal
      </Alert.Heading>
      <ul className="mb-1">
        {standing.faults.slice(0, 5).map((fault) => (
          <li key={fault}>{fault}</li>
        ))}
        {standing.faults.length > 5 && <li>and more</li>}
      </ul>
      <p className="mb-0">
        Do not rely on these or on what rests on them: sign nothing, and restore a backup from before. Checked{" "}
        {standing.checked_at?.slice(0, 16).replace("T", " ")} UTC.
      </p>
    </Alert>
  );
}
