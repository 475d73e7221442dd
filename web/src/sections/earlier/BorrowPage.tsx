import { useState } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { type ApiError, asApiError, body, POST, send, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { FileField } from "../../shared/fields/FileField";
import { FormDialog } from "../../shared/fields/FormDialog";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { day, plain, roughly, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";

type Theirs = Schemas["TheirSetFound"];

/** A set of another workshop, out of its file: mapped to a material and printer here, and carried over. */
export default function BorrowPage() {
  const [search, setSearch] = useSearchParams();
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  const [sending, setSending] = useState(false);
  const id = search.get("file");
  const theirs = useGet("/api/bundles/{bundle_id}/sets", id ? { params: { path: { bundle_id: id } } } : null);
  async function choose(file: File) {
    setTrouble(null);
    setSending(true);
    try {
      setSearch({ file: (await send<Schemas["BundleFile"]>("/api/bundles", file)).id });
    } catch (error) {
      setTrouble(asApiError(error));
    } finally {
      setSending(false);
    }
  }
  return (
    <>
      <PageHead title="From another workshop" sub="A source for a range and for estimates; never a set of yours" />
      <section className="panel" aria-label="File">
        <FileField
          label="Their file"
          accept=".json,.zip"
          disabled={sending}
          hint="The JSON of one set, or the bundle of a whole lab, as Setback exports it."
          onChoose={(file) => void choose(file)}
        />
        {sending && <p className="mt-2 mb-0">Checking file…</p>}
        <Trouble error={trouble} className="mt-2" />
      </section>
      {id && (
        <Loaded query={theirs}>
          {(found) => <TheirSets found={found} bundle={id} onBorrowed={() => void theirs.refetch()} />}
        </Loaded>
      )}
    </>
  );
}

function TheirSets({
  found,
  bundle,
  onBorrowed,
}: {
  found: Schemas["TheirSets"];
  bundle: string;
  onBorrowed: () => void;
}) {
  const [chosen, setChosen] = useState<Theirs | null>(null);
  return (
    <section className="panel mt-3" aria-label="Their sets">
      <h2>Their sets</h2>
      <Table size="sm" responsive className="mb-0">
        <thead>
          <tr>
            <th>Set</th>
            <th className="text-end">Layer, µm</th>
            <th className="text-end">Exposure, s</th>
            <th>Issued</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {found.items.map((one) => (
            <tr key={one.code}>
              <td>
                {one.material} on {one.printer} <span className="num text-secondary">{one.code}</span>
              </td>
              <td className="num text-end">{one.layer_height_um}</td>
              <td className="num text-end">{plain(one.exposure_s)}</td>
              <td>{day(one.issued_at)}</td>
              <td className="text-end">
                {one.borrowed_as ? (
                  <Link to="/shelf/in-use">borrowed as {one.borrowed_as}</Link>
                ) : (
                  <Button size="sm" variant="quiet" aria-label={`Borrow ${one.code}`} onClick={() => setChosen(one)}>
                    Borrow…
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {chosen && (
        <BorrowDialog
          theirs={chosen}
          found={found}
          bundle={bundle}
          onClose={() => setChosen(null)}
          onBorrowed={onBorrowed}
        />
      )}
    </section>
  );
}

function BorrowDialog({
  theirs,
  found,
  bundle,
  onClose,
  onBorrowed,
}: {
  theirs: Theirs;
  found: Schemas["TheirSets"];
  bundle: string;
  onClose: () => void;
  onBorrowed: () => void;
}) {
  const say = useSay();
  const entry = useEntry({
    workshop: "",
    material_id: theirs.material_id ?? "",
    printer_id: theirs.printer_id ?? "",
    note: "",
  });
  const save = useSend(
    (_: null, headers) =>
      body(
        POST("/api/borrowed-sets", {
          body: { bundle_id: bundle, set_code: theirs.code, same_materials: {}, ...entry.values },
          headers,
        }),
      ),
    (kept) => {
      say(
        `${kept.code}: about ${roughly(kept.exposure_s)} s on ${kept.printer}, likely ${roughly(kept.low_s)} to ${roughly(kept.high_s)} s.`,
      );
      onBorrowed();
      onClose();
    },
  );
  const { field, elsewhere } = entry.checked(save.error);
  return (
    <FormDialog
      title={`Borrow ${theirs.code}`}
      action="Borrow it"
      saving={save.isPending}
      error={elsewhere}
      ready={entry.values.workshop.trim() !== ""}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0">
        {theirs.material} on {theirs.printer}, {theirs.layer_height_um} µm: {plain(theirs.exposure_s)}
        {THIN}s there.
      </p>
      <TextField label="Name of the workshop" {...field("workshop")} autoFocus placeholder="the harbour school" />
      <Choice
        label={`${theirs.material} is here`}
        {...field("material_id")}
        options={found.materials.map((one) => [one.id, one.name])}
      />
      <Choice
        label={`${theirs.printer} is here`}
        {...field("printer_id")}
        options={found.printers.map((one) => [one.id, one.name])}
      />
      <TextField label="Note" {...field("note")} lines={2} />
      <p className="text-secondary small mb-0">
        It is carried over by what both have measured: materials calibrated in both, light meters, working curves. What
        is left unknown widens its interval.
      </p>
    </FormDialog>
  );
}
