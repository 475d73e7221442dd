import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { millilitres } from "../../shared/format";
import { useGet } from "../../shared/api/useGet";

type Kind = Schemas["VatInput"]["kind"];
const KINDS: [Kind, string][] = [
  ["pour", "Pour in"],
  ["feed", "From the automatic feed bottle"],
  ["drain", "Drain"],
  ["empty", "Empty and clean"],
];

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
  const [kind, setKind] = useState<Kind>(first.kind ?? "pour");
  const [bottle, setBottle] = useState(first.bottle_id ?? "");
  const [volume, setVolume] = useState<number | null>(first.volume_ml ?? null);
  const [into, setInto] = useState("");
  const [when, setWhen] = useState("");
  const [name, setName] = useState("");
  const [contamination, setContamination] = useState("");
  const bottles = useGet(
    "/api/bottles",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const incoming = kind === "pour" || kind === "feed";
  const given: Schemas["VatInput"] = {
    kind: kind === "pour" && vat.volume_ml < 0.5 ? "fill" : kind,
    volume_ml: kind === "empty" ? 0 : (volume ?? 0),
    bottle_id: incoming ? bottle || null : null,
    to_bottle_id: kind === "drain" ? into || null : null,
    at: when ? new Date(when).toISOString() : null,
    new_name: name.trim() || null,
    contamination: contamination.trim() || null,
    note: "",
  };
  const path = { params: { path: { printer_id: vat.printer_id } } };
  const ready = kind === "empty" || (volume !== null && volume > 0 && (!incoming || Boolean(bottle)));
  const withdraw = useSend((id: string) =>
    body(
      POST("/api/vat-entries/{entry_id}/withdraw", {
        params: { path: { entry_id: id } },
        body: { reason: "taken back at once" },
      }),
    ),
  );
  const send = useSend(
    (_: null, headers) => body(POST("/api/printers/{printer_id}/vat", { ...path, body: given, headers })),
    (made) => {
      const kept = made.ledger.find((one) => one.can_withdraw);
      say(
        `Noted. ${millilitres(made.volume_ml)} in the vat of ${vat.printer}.`,
        kept && (() => withdraw.mutate(kept.id)),
      );
      onClose();
    },
  );
  const preview = useQuery<Schemas["VatPreview"], ApiError>({
    queryKey: ["vat-preview", vat.printer_id, vat.volume_ml, given],
    queryFn: () => body(POST("/api/printers/{printer_id}/vat/preview", { ...path, body: given })),
    enabled: ready && !send.isSuccess,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const errors: Record<string, string> = { ...preview.error?.fields, ...send.error?.fields };
  const held = preview.error ? undefined : preview.data;
  const nameless = ready && held?.mixes && held.becomes === null;
  function pick(id: string) {
    setBottle(id);
    const left = bottles.data?.find((one) => one.id === id)?.left_ml ?? 0;
    // Up to the fill line, as far as the bottle goes.
    if (volume === null) setVolume(Math.round(Math.min(left, Math.max(vat.fill_line_ml - vat.volume_ml, 0))) || null);
  }
  const options = (bottles.data ?? []).map(
    (one) =>
      [one.id, `${one.code}, ${one.material}, lot ${one.lot}, ${millilitres(one.left_ml)} left`] as [string, string],
  );
  return (
    <FormDialog
      title={`Vat of ${vat.printer}`}
      action="Note it"
      saving={send.isPending}
      error={send.error ?? preview.error}
      ready={Boolean(ready && held) && !(nameless && !name.trim() && !contamination.trim())}
      onSave={() => send.mutate(null)}
      onClose={onClose}
    >
      <Choice label="What" value={kind} onChange={(value) => setKind(value)} options={KINDS} />
      {incoming && <Choice label="From" value={bottle} onChange={pick} error={errors.bottle_id} options={options} />}
      {kind !== "empty" && (
        <NumberField
          label="Volume"
          unit="ml"
          value={volume}
          onChange={setVolume}
          error={errors.volume_ml}
          hint={`${millilitres(vat.volume_ml)} in it, ${millilitres(vat.capacity_ml)} at most`}
        />
      )}
      {kind === "drain" && (
        <Choice
          label="Through a strainer into"
          value={into}
          onChange={setInto}
          none="waste"
          error={errors.to_bottle_id}
          options={options}
        />
      )}
      <TextField label="When, if not now" value={when} onChange={setWhen} error={errors.at} type="datetime-local" />
      {ready && held && <Becomes held={held} />}
      {nameless && (
        <NameIt
          name={name}
          onName={setName}
          contamination={contamination}
          onContamination={setContamination}
          error={errors.new_name ?? errors.name}
        />
      )}
    </FormDialog>
  );
}

/** What the entry would make of the vat, and which sets would lapse by it. */
function Becomes({ held }: { held: Schemas["VatPreview"] }) {
  const shares = held.layers
    .map((one) => `${(100 * one.fraction).toFixed(one.fraction < 0.1 ? 1 : 0)} % ${one.material}`)
    .join(", ");
  return (
    <div aria-live="polite">
      <p className="mb-2">
        Then in the vat: <b>{held.becomes ?? (shares || "nothing")}</b>, {millilitres(held.volume_ml)}
      </p>
      {held.mixes && (
        <p className="caution mb-2">
          It was {held.was ?? "a mixture"} and will be something else.{" "}
          {held.touched.length
            ? `Sets that lapse: ${held.touched.map((one) => `${one.set_code} (${one.material} on ${one.printer})`).join(", ")}.`
            : "No issued set rests on it."}
        </p>
      )}
    </div>
  );
}

type NameProps = {
  name: string;
  onName: (name: string) => void;
  contamination: string;
  onContamination: (why: string) => void;
  error: string | undefined;
};

/** A mixture nobody has named is a new material, or a stated contamination. */
function NameIt({ name, onName, contamination, onContamination, error }: NameProps) {
  return (
    <>
      <TextField
        label="Name it as a new material"
        value={name}
        onChange={onName}
        error={error}
        hint="It is calibrated like any other."
      />
      <TextField
        label="or state it as a contamination"
        value={contamination}
        onChange={onContamination}
        placeholder="A rest in the funnel"
      />
    </>
  );
}
