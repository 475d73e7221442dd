import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { useEntry } from "../../shared/fields/useEntry";
import { done, given, type Group, type Row, type Specimen, type TestView } from "./model";

/** What was read off a specimen so far, what it gives, and how it is kept; a staircase and a series go on by themselves. */
export function useSpecimenReading(test: TestView, specimen: Specimen, group: Group) {
  const navigate = useNavigate();
  const say = useSay();
  const { method } = test;
  const series = method.against;
  const earlier = series ? undefined : specimen.reads[0];
  const fields = [...(series ? [series] : []), ...method.steps.flatMap((step) => step.reads)];
  const first: Row = Object.fromEntries(fields.map((field) => [field.key, field.usual ?? null]));
  if (method.pattern === "staircase") first.height_m = group.next_height_m;
  const entry = useEntry<{ read: Row; note: string; reason: string }>(
    // A reading is kept by its method's own fields.
    { read: earlier ? { ...first, ...(earlier.read as Row) } : first, note: "", reason: "" },
    `specimen.${specimen.id}.${specimen.reads.length}`,
  );
  const { read: row, note, reason } = entry.values;
  const shut = test.closed_at !== null || !specimen.ready || specimen.gone_reason !== null;
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
          body: { read: given(row), note, replaces: earlier?.id ?? null, reason: reason || null },
          headers,
        }),
      ),
    (after) => {
      entry.forget();
      const kept = after.specimens.find((one) => one.id === specimen.id)?.reads.at(-1);
      say(`${specimen.code} is kept.`, kept && (() => withdraw.mutate(kept.id)));
      // A series goes on with the same specimen, fresh for the next count.
      if (series) return;
      void navigate(after.next_code ? `/test/${test.code}/${after.next_code}` : `/test/${test.code}`);
    },
    {
      waits: {
        words: () => `Reading of ${specimen.code}`,
        onKept() {
          entry.forget();
          say(`The reading of ${specimen.code} waits in this device.`);
        },
      },
    },
  );
  const { field, errors: found } = entry.checked(send.error);
  const errors = Object.fromEntries(
    Object.entries(found).map(([key, message]) => [key.replace(/^read\./, ""), message]),
  );
  return {
    fields,
    row,
    change: (changes: Row) => entry.set({ read: { ...row, ...changes } }),
    field,
    shut,
    errors,
    corrects: earlier !== undefined,
    preview: complete ? preview.data : undefined,
    ready: complete && !shut && !send.isPending,
    keep: () => void (complete && !shut && !send.isPending && send.mutate(null)),
    refused: send.error && !fields.some((field) => errors[field.key]) && !errors.reason ? send.error : null,
  };
}
