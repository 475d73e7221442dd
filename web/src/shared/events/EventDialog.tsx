import { useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import { type ApiError, body, POST, type Schemas } from "../api/client";
import { useSend } from "../api/useSend";
import { Choice } from "../fields/Choice";
import { DialogForm } from "../fields/DialogForm";
import { NumberField } from "../fields/NumberField";
import { TextField } from "../fields/TextField";
import { useEntry } from "../fields/useEntry";
import { plural, THIN } from "../format";
import { Loaded } from "../Loading";
import { StateMark } from "../StateMark";
import { Trouble } from "../Trouble";
import { useGet } from "../api/useGet";

type About = {
  printer?: { id: string; name: string };
  material?: { id: string; name: string; bottles: { id: string; code: string; lot: string }[] };
};
type Props = About & {
  /** What is known to have happened. */
  kind?: string;
  onClose: () => void;
};

/** Record what happened to a printer, a bottle or a vat; which sets it touches is said beforehand. */
export function EventDialog(props: Props) {
  const rules = useGet("/api/validity-rules");
  const materials = useGet(
    "/api/resins",
    { params: { query: { limit: 200, retired: false, after: "" } } },
    { enabled: Boolean(props.printer) },
  );
  return (
    <Modal show onHide={props.onClose} aria-labelledby="event-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="event-title" className="h3 m-0">
          What happened to {props.printer?.name ?? props.material?.name}?
        </Modal.Title>
      </Modal.Header>
      <Loaded query={rules}>
        {(held) => (
          <EventForm
            {...props}
            rules={held.rules}
            materials={(materials.data?.items ?? []).map((one) => [one.id, one.name])}
          />
        )}
      </Loaded>
    </Modal>
  );
}

function EventForm({
  printer,
  material,
  kind,
  rules,
  materials,
  onClose,
}: Props & { rules: Schemas["Rule"][]; materials: [string, string][] }) {
  const say = useSay();
  const subjects = printer ? ["printer", "pair"] : ["bottle", "material"];
  const offered = rules.filter((rule) => !rule.derived && subjects.includes(rule.subject));
  const bottles = material?.bottles ?? [];
  const entry = useEntry({
    kind: offered.some((rule) => rule.key === kind) ? (kind ?? "") : "",
    happened_at: "",
    screen_hours: null as number | null,
    note: "",
    material_id: "",
    bottle_id: (bottles.length === 1 && bottles[0]?.id) || "",
  });
  const { values } = entry;
  const rule = offered.find((one) => one.key === values.kind);
  const material_id = rule?.subject === "pair" ? values.material_id : rule?.subject === "material" ? material?.id : "";
  const bottle_id = rule?.subject === "bottle" ? values.bottle_id : "";
  const request: Schemas["EventInput"] = {
    ...values,
    printer_id: printer?.id ?? null,
    material_id: material_id || null,
    bottle_id: bottle_id || null,
    happened_at: values.happened_at ? new Date(values.happened_at).toISOString() : null,
  };
  const ready = rule !== undefined && (rule.subject === "printer" || Boolean(material_id) || Boolean(bottle_id));
  const preview = useQuery<Schemas["EventPreview"], ApiError>({
    queryKey: ["event-preview", request],
    queryFn: () => body(POST("/api/events/preview", { body: request })),
    enabled: ready,
    retry: false,
    placeholderData: (held) => held,
  });
  const withdraw = useSend((event_id: string) =>
    body(
      POST("/api/events/{event_id}/withdraw", {
        params: { path: { event_id } },
        body: { reason: "undone right after recording" },
      }),
    ),
  );
  const record = useSend(
    (_: null, headers) => body(POST("/api/events", { body: request, headers })),
    (made) => {
      say(
        `${made.event.name}: recorded${made.touched.length ? `, ${plural(made.touched.length, "set")} touched` : ""}.`,
        () => withdraw.mutate(made.event.id),
      );
      onClose();
    },
  );
  const { field, errors, elsewhere } = entry.checked(record.error, preview.error);
  const effect = preview.error ? undefined : preview.data;
  return (
    <DialogForm onSave={() => ready && record.mutate(null)}>
      <Modal.Body className="d-grid gap-3">
        <Choice label="What" {...field("kind")} options={offered.map((one) => [one.key, one.name])} />
        {rule?.subject === "pair" && (
          <Choice label="Material in the vat" {...field("material_id")} options={materials} />
        )}
        {rule?.subject === "bottle" && (
          <Choice
            label="Bottle"
            {...field("bottle_id")}
            options={bottles.map((one) => [one.id, `${one.code}, lot ${one.lot}`])}
          />
        )}
        <div className="row g-2">
          <TextField
            className="col-7"
            label="When"
            type="datetime-local"
            {...field("happened_at")}
            hint={errors.happened_at ? undefined : "Now, when left empty"}
          />
          {printer && (
            <NumberField
              className="col-5"
              label="Screen hours"
              unit="h"
              {...field("screen_hours")}
              hint={rule?.resets_hours ? "Start again at 0" : undefined}
            />
          )}
        </div>
        <TextField label="Note" {...field("note")} />
        {effect && ready && <Touches effect={effect} />}
        <Trouble error={errors.technician ? null : elsewhere} />
        {errors.technician && <p className="trouble mb-0">{errors.technician}</p>}
      </Modal.Body>
      <Modal.Footer>
        <Button type="submit" disabled={!ready || record.isPending}>
          Record it
        </Button>
      </Modal.Footer>
    </DialogForm>
  );
}

/** What the event would do to the sets that rest on it. */
function Touches({ effect }: { effect: Schemas["EventPreview"] }) {
  return (
    <section aria-label="What it touches">
      <p className="mb-1">
        {effect.why}{" "}
        {effect.touched.length ? `It touches ${plural(effect.touched.length, "set")}:` : "It touches no set."}
      </p>
      <ul className="mb-0">
        {effect.touched.slice(0, 12).map((one) => (
          <li key={one.set_code}>
            {one.material} on {one.printer}, {one.layer_height_um}
            {THIN}µm <StateMark name={one.effect === "lapse" ? "lapsed" : "due"} />
          </li>
        ))}
        {effect.touched.length > 12 && <li>and {effect.touched.length - 12} more</li>}
      </ul>
    </section>
  );
}
