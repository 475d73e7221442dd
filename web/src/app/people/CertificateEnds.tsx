import { day } from "../../shared/format";
import { useTechnician } from "./technician";

const SOON_DAYS = 21;

/** Tells a lead in time that the server's certificate runs out: from then on no phone opens it. */
export function CertificateEnds() {
  const ends = useTechnician().session?.certificate_ends;
  if (!ends) return null;
  const days = (new Date(ends).getTime() - Date.now()) / 86_400_000;
  if (days > SOON_DAYS) return null;
  return (
    <p className="caution no-print" role="status">
      The certificate of this server {days > 0 ? "runs" : "ran"} out on {day(ends)}
      {days > 0 ? ": from then on nobody can open it" : ""}. Make a new one on the server's machine:{" "}
      <code>setback tls-certificate</code>, then start it again.
    </p>
  );
}
