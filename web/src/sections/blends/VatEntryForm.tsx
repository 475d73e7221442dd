import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { type Entry, useEntry } from "../../shared/fields/useEntry";
import { millilitres, roughly } from "../../shared/format";
import { useGet } from "../../shared/api/useGet";

type Kind = Schemas["VatInput"]["kind"];
const KINDS: [Kind, string][] = [
  ["pour", "Pour in"],
  ["feed", "From the automatic feed bottle"],
  ["drain", "Drain"],
  ["empty", "Empty and clean"],
];

type Draft = {
  kind: Kind;
  bottle_id: string;
  volume_ml: number | null;
  to_bottle_id: string;
  /** A local time; empty is now. */
  at: string;
  new_name: string;
  contamination: string;
};

/** One entry of the ledger: what it makes of the vat, and which sets that touches, is said before it is kept. */
export function VatEntryForm({
  vat,
  first,
  onClose,
}: {
  vat: Schemas["VatView"];
  first: Partial<Schemas["VatInput"]>;
  onClose: () => void;
}) {
  const say = useSay();
  const entry = useEntry<Draft>({
    kind: first.kind ?? "pour",
    bottle_id: first.bottle_id ?? "",
    volume_ml: first.volume_ml ?? null,
    to_bottle_id: "",
    at: "",
    new_name: "",
    contamination: "",
  });
  const { kind, bottle_id, volume_ml, to_bottle_id, at, new_name, contamination } = entry.values;
  const bottles = useGet(
    "/api/bottles",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const incoming = kind === "pour" || kind === "feed";
  const request: Schemas["VatInput"] = {
    kind: kind === "pour" && vat.volume_ml < 0.5 ? "fill" : kind,
    volume_ml: kind === "empty" ? 0 : (volume_ml ?? 0),
    bottle_id: incoming ? bottle_id || null : null,
    to_bottle_id: kind === "drain" ? to_bottle_id || null : null,
    at: at ? new Date(at).toISOString() : null,
    new_name: new_name.trim() || null,
    contamination: contamination.trim() || null,
    note: "",
  };
  const path = { params: { path: { printer_id: vat.printer_id } } };
  const ready = kind === "empty" || (volume_ml !== null && volume_ml > 0 && (!incoming || Boolean(bottle_id)));
  const withdraw = useSend((id: string) =>
    body(
      POST("/api/vat-entries/{entry_id}/withdraw", {
        params: { path: { entry_id: id } },
        body: { reason: "taken back at once" },
      }),
    ),
  );
  const send = useSend(
    (_: null, headers) => body(POST("/api/printers/{printer_id}/vat", { ...path, body: request, headers })),
    (made) => {
      const kept = made.ledger.find((one) => one.can_withdraw);
      say(
        `Recorded. ${millilitres(made.volume_ml)} in the vat of ${vat.printer}.`,
        kept && (() => withdraw.mutate(kept.id)),
      );
      onClose();
    },
  );
  const preview = useQuery<Schemas["VatPreview"], ApiError>({
    queryKey: ["vat-preview", vat.printer_id, vat.volume_ml, request],
    queryFn: () => body(POST("/api/printers/{printer_id}/vat/preview", { ...path, body: request })),
    enabled: ready && !send.isSuccess,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const checked = entry.checked(preview.error, send.error);
  const { field, elsewhere } = checked;
  const after = preview.error ? undefined : preview.data;
  const nameless = ready && after?.mixes && after.becomes === null;
  function pick(id: string) {
    const left = bottles.data?.find((one) => one.id === id)?.left_ml ?? 0;
    // Up to the fill line, as far as the bottle goes.
    const fits = Math.round(Math.min(left, Math.max(vat.fill_line_ml - vat.volume_ml, 0))) || null;
    entry.set({ bottle_id: id, volume_ml: volume_ml ?? fits });
  }
  const options = (bottles.data ?? []).map(
    (one) =>
      [one.id, `${one.code}, ${one.material}, lot ${one.lot}, ${millilitres(one.left_ml)} left`] as [string, string],
  );
  return (
    <FormDialog
      title={`Vat of ${vat.printer}`}
      action="Record it"
      saving={send.isPending}
      error={elsewhere}
      ready={Boolean(ready && after) && !(nameless && !new_name.trim() && !contamination.trim())}
      onSave={() => send.mutate(null)}
      onClose={onClose}
    >
      <Choice label="What" {...field("kind")} options={KINDS} />
      {incoming && <Choice label="From" {...field("bottle_id")} onChange={pick} options={options} />}
      {kind !== "empty" && (
        <NumberField
          label="Volume"
          unit="ml"
          {...field("volume_ml")}
          hint={`${millilitres(vat.volume_ml)} in it, ${millilitres(vat.capacity_ml)} at most`}
        />
      )}
      {kind === "drain" && (
        <Choice label="Through a strainer into" {...field("to_bottle_id")} none="waste" options={options} />
      )}
      <TextField label="When, if not now" {...field("at")} type="datetime-local" />
      {ready && after && <Becomes after={after} />}
      {nameless && <NameIt checked={checked} />}
    </FormDialog>
  );
}

/** What the entry would make of the vat, and which sets would lapse by it. */
function Becomes({ after }: { after: Schemas["VatPreview"] }) {
  const shares = after.layers.map((one) => `${roughly(100 * one.fraction)} % ${one.material}`).join(", ");
  return (
    <div aria-live="polite">
      <p className="mb-2">
        Then in the vat: <b>{after.becomes ?? (shares || "nothing")}</b>, {millilitres(after.volume_ml)}
      </p>
      {after.mixes && (
        <p className="caution mb-2">
          It was {after.was ?? "a mixture"} and will be something else.{" "}
          {after.touched.length
            ? `Sets that lapse: ${after.touched.map((one) => `${one.set_code} (${one.material} on ${one.printer})`).join(", ")}.`
            : "No issued set rests on it."}
        </p>
      )}
    </div>
  );
}

/** A mixture nobody has named is a new material, or a stated contamination. */
function NameIt({ checked: { field, errors } }: { checked: ReturnType<Entry<Draft>["checked"]> }) {
  return (
    <>
      <TextField
        label="Name it as a new material"
        {...field("new_name")}
        error={errors.new_name ?? errors.name}
        hint="It is calibrated like any other."
      />
      <TextField
        label="or state it as a contamination"
        {...field("contamination")}
        placeholder="A rest in the funnel"
      />
    </>
  );
}
