import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EntryForm, type FieldSpec } from "../../shared/fields/EntryForm";
import { useGet } from "../../shared/api/useGet";
import { TEMP_PLACES } from "../../shared/StartTemperature";

type Probe = Schemas["ProbeView"];
const PLACES = TEMP_PLACES.map(([value, name]) => ({ value, name }));

/** A probe is a name, a place, and what reads it. */
export function ProbeForm({ probe, onClose }: { probe?: Probe; onClose: () => void }) {
  const say = useSay();
  const printers = useGet(
    "/api/printers",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const drivers = useGet("/api/probe-drivers", {}, { select: (answer) => answer.items });
  const ways = (drivers.data ?? []).map((one) => ({ value: one.key, name: one.name }));
  const fields: FieldSpec[] = [
    { name: "name", label: "Name", type: "text", required: true },
    { name: "place", label: "Where it is", type: "choice", options: PLACES, required: true },
    {
      name: "printer_id",
      label: "In which printer",
      type: "choice",
      options: (printers.data ?? []).map((one) => ({ value: one.id, name: one.name })),
      hint: "Not for a probe in the room",
    },
    { name: "driver", label: "Read", type: "choice", options: ways, required: true },
    { name: "note", label: "Note", type: "note" },
  ];
  const save = useSend(
    (values: Record<string, unknown>, headers) => {
      const given = values as Schemas["ProbeInput"];
      return probe
        ? body(
            PUT("/api/probes/{probe_id}", {
              params: { path: { probe_id: probe.id } },
              body: given,
            }),
          )
        : body(POST("/api/probes", { body: given, headers }));
    },
    (made) => {
      say(`${made.name} is saved.`);
      onClose();
    },
  );
  const values = probe
    ? { name: probe.name, place: probe.place, printer_id: probe.printer_id, driver: probe.driver, note: probe.note }
    : { name: "", place: "room", printer_id: null, driver: "hand", note: "" };
  return (
    <EntryForm
      title={probe ? `Change ${probe.name}` : "Add a probe"}
      fields={fields}
      values={values}
      version={probe?.version}
      saving={save.isPending}
      error={save.error}
      onSave={(given) => save.mutate(given)}
      onClose={onClose}
    />
  );
}
