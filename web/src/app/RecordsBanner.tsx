import { useGet } from "../shared/api/useGet";

const MOST = 5;

/** Stands over every page, and on every print of it, while records are not what was entered. */
export function RecordsBanner() {
  const standing = useGet("/api/records", {}).data;
  if (!standing || standing.intact) return null;
  return (
    <div className="trouble mb-4" role="alert">
      <p className="h4 mb-1">Records do not match the journal</p>
      <ul className="mb-1">
        {standing.faults.slice(0, MOST).map((fault) => (
          <li key={fault}>{fault}</li>
        ))}
        {standing.faults.length > MOST && <li>and more</li>}
      </ul>
      Do not rely on these or on what rests on them: sign nothing, and restore a backup from before. Checked{" "}
      {standing.checked_at?.slice(0, 16).replace("T", " ")} UTC.
    </div>
  );
}
