import { day } from "../../shared/format";
import { useTechnician } from "./technician";

/** Tells a lead in time that the server's certificate runs out: from then on no phone opens it. */
export function CertificateEnds() {
  const { session } = useTechnician();
  const ends = session?.certificate_ends;
  if (!ends || !session.certificate_is_near) return null;
  const isOver = ends <= session.now;
  return (
    <p className="caution no-print" role="status">
      The certificate of this server {isOver ? "ran" : "runs"} out on {day(ends)}
      {isOver ? "" : ": from then on nobody can open it"}. Make a new one on the server's machine:{" "}
      <code>setback tls-certificate</code>, then start it again.
    </p>
  );
}
