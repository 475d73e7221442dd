import { Link } from "react-router";
import { useGet } from "../api/useGet";

/** Warns, before anything is printed, where no phone could follow the codes on it. */
export function LabelAddress() {
  const place = useGet("/api/lab-settings/place").data;
  if (!place || place.reaches_others) return null;
  return (
    <p className="caution mb-0">
      Codes on these labels lead to {place.address}: this machine alone can follow them, no phone.{" "}
      <Link to="/lab">Set the address</Link> before you print many.
    </p>
  );
}
