import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { useKept } from "../../shared/useKept";
import { done, given, type Group, type Row, type Specimen, type TestView } from "./model";

/** What was read off a specimen so far, what it gives, and how it is kept; a staircase and a series go on by themselves. */
export function useSpecimenReading(test: TestView, specimen: Specimen, group: Group) {
  const navigate = useNavigate();
  const say = useSay();
  const { method } = test;
  const series = method.against;
  const held = series ? undefined : specimen.reads[0];
  const fields = [...(series ? [series] : []), ...method.steps.flatMap((step) => step.reads)];
  const first: Row = Object.fromEntries(fields.map((field) => [field.key, field.usual ?? null]));
  if (method.pattern === "staircase") first.height_m = group.next_height_m;
  const [row, setRow, forget] = useKept<Row>(
    `specimen.${specimen.id}.${specimen.reads.length}`,
    held ? { ...first, ...(held.read as Row) } : first,
  );
  const [note, setNote] = useState("");
  const [reason, setReason] = useState("");
  const shut = test.closed_at !== null || !group.ready || specimen.gone_reason !== null;
  const complete = fields.every((field) => done(field, row));
  const path = { params: { path: { id_or_code: specimen.code } } };
  const preview = useQuery({
    queryKey: ["specimen-preview", specimen.id, given(row)],
    queryFn: () => body(POST("/api/specimens/{id_or_code}/preview", { ...path, body: { read: given(row) } })),
    enabled: complete,
    placeholderData: keepPreviousData,
  });
  const withdraw = useSend((id: string) =>
    body(
      POST("/api/specimen-readings/{reading_id}/withdraw", {
        params: { path: { reading_id: id } },
        body: { reason: "taken back at once" },
      }),
    ),
  );
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/specimens/{id_or_code}/readings", {
          ...path,
          body: { read: given(row), note, replaces: held?.id ?? null, reason: reason || null },
          headers,
        }),
      ),
    (after) => {
      forget();
      const kept = after.specimens.find((one) => one.id === specimen.id)?.reads.at(-1);
      say(`${specimen.code} is kept.`, kept && (() => withdraw.mutate(kept.id)));
      // A series goes on with the same specimen, fresh for the next count.
      if (series) return;
      void navigate(after.next_code ? `/test/${test.code}/${after.next_code}` : `/test/${test.code}`);
    },
  );
  const errors: Record<string, string> = Object.fromEntries(
    Object.entries(send.error?.fields ?? {}).map(([key, said]) => [key.replace(/^read\./, ""), said]),
  );
  return {
    fields,
    row,
    change: (changes: Row) => setRow((before) => ({ ...before, ...changes })),
    note,
    setNote,
    reason,
    setReason,
    shut,
    errors,
    corrects: held !== undefined,
    preview: complete ? preview.data : undefined,
    ready: complete && !shut && !send.isPending,
    keep: () => void (complete && !shut && !send.isPending && send.mutate(null)),
    refused: send.error && !fields.some((field) => errors[field.key]) && !errors.reason ? send.error : null,
  };
}
