import type { Schemas } from "../../shared/api/client";

/** What the rules of mixing say, the forbidding ones first. */
export function Findings({ findings }: { findings: Schemas["Finding"][] }) {
  return (
    <>
      {findings.map((one) => (
        <p key={one.key} className={`${one.severity === "forbid" ? "trouble" : "caution"} mb-2`}>
          <b>{one.severity === "forbid" ? "Do not mix. " : one.severity === "warn" ? "Caution: " : ""}</b>
          {one.message}
        </p>
      ))}
    </>
  );
}
