import { Link } from "react-router";
import { useGet } from "../api/useGet";

/** Warns, before anything is printed, where no phone could follow the codes on it. */
export function LabelAddress({ lead = "Codes on these labels lead" }: { lead?: string }) {
  const place = useGet("/api/lab-settings/place").data;
  if (!place || place.reaches_others) return null;
  return (
    <p className="caution mb-0 text-start">
      {lead} to {place.address}, which this machine alone can follow, no phone. <Link to="/lab">Set the address</Link>{" "}
      first.
    </p>
  );
}
