import { useState } from "react";
import Button from "react-bootstrap/Button";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment } from "../../shared/format";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import type { Specimen, TestView } from "./model";

/** What was read off this specimen, by whom; superseded and withdrawn readings stay to be seen. */
export function PastReads({ test, specimen }: { test: TestView; specimen: Specimen }) {
  const [taking, setTaking] = useState<Schemas["ReadView"] | null>(null);
  const withdraw = useSend(
    ({ id, reason }: { id: string; reason: string }) =>
      body(
        POST("/api/specimen-readings/{reading_id}/withdraw", {
          params: { path: { reading_id: id } },
          body: { reason },
        }),
      ),
    () => setTaking(null),
  );
  const found = useSend(() =>
    body(POST("/api/specimens/{id_or_code}/found-again", { params: { path: { id_or_code: specimen.code } } })),
  );
  const fields = [
    ...(test.method.against ? [test.method.against] : []),
    ...test.method.steps.flatMap((step) => step.reads),
  ];
  const words = (read: Record<string, unknown>) =>
    fields
      .filter((field) => read[field.key] !== undefined)
      .map(
        (field) =>
          `${field.label.toLowerCase()} ${field.kind === "yes" ? (read[field.key] ? "yes" : "no") : Array.isArray(read[field.key]) ? (read[field.key] as number[]).join(" ") : String(read[field.key])}${field.unit ? ` ${field.unit}` : ""}`,
      )
      .join(", ");
  if (!specimen.reads.length && !specimen.past.length)
    return specimen.gone_reason ? (
      <Button variant="quiet" onClick={() => found.mutate(undefined)}>
        It was found again
      </Button>
    ) : null;
  return (
    <section className="panel small" aria-label="Readings of this specimen">
      {specimen.reads.map((one) => (
        <p key={one.id} className="mb-2">
          {words(one.read)}
          <span className="text-secondary d-block">
            {one.initials}, {moment(one.read_at)} {one.note}
          </span>
          <Button variant="link" className="p-0" onClick={() => setTaking(one)}>
            Withdraw…
          </Button>
        </p>
      ))}
      {specimen.past.map((one) => (
        <p key={one.id} className="mb-2 text-secondary">
          {one.withdrawn ? <>Withdrawn: {one.reason}</> : <s>{words(one.read)}</s>}{" "}
          <span className="d-block">
            {one.initials}, {moment(one.read_at)}
          </span>
        </p>
      ))}
      <Trouble error={found.error} />
      {taking && (
        <ReasonDialog
          title={`Withdraw the reading of ${specimen.code}`}
          label="Why"
          action="Withdraw it"
          saving={withdraw.isPending}
          error={withdraw.error}
          onClose={() => setTaking(null)}
          onSave={(reason) => withdraw.mutate({ id: taking.id, reason })}
        />
      )}
    </section>
  );
}
