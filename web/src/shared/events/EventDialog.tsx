import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import { type ApiError, body, POST, type Schemas } from "../api/client";
import { useSend } from "../api/useSend";
import { Choice } from "../fields/Choice";
import { DialogForm } from "../fields/DialogForm";
import { NumberField } from "../fields/NumberField";
import { TextField } from "../fields/TextField";
import { plural, THIN } from "../format";
import { Loaded } from "../Loading";
import { StateMark } from "../StateMark";
import { Trouble } from "../Trouble";
import { useGet } from "../api/useGet";

type About = {
  printer?: { id: string; name: string };
  material?: { id: string; name: string; bottles: { id: string; code: string; lot: string }[] };
};
type Props = About & { onClose: () => void };

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
  rules,
  materials,
  onClose,
}: Props & { rules: Schemas["Rule"][]; materials: [string, string][] }) {
  const say = useSay();
  const subjects = printer ? ["printer", "pair"] : ["bottle", "material"];
  const offered = rules.filter((rule) => !rule.derived && subjects.includes(rule.subject));
  const [kind, setKind] = useState("");
  const [at, setAt] = useState("");
  const [hours, setHours] = useState<number | null>(null);
  const [note, setNote] = useState("");
  const [other, setOther] = useState(material && material.bottles.length === 1 ? material.bottles[0]!.id : "");
  const rule = offered.find((one) => one.key === kind);
  const given: Schemas["EventInput"] = {
    kind,
    printer_id: printer?.id ?? null,
    material_id: rule?.subject === "pair" ? other || null : rule?.subject === "material" ? material!.id : null,
    bottle_id: rule?.subject === "bottle" ? other || null : null,
    happened_at: at ? new Date(at).toISOString() : null,
    screen_hours: hours,
    note,
  };
  const ready = Boolean(rule) && (rule!.subject === "printer" || rule!.subject === "material" || Boolean(other));
  const preview = useQuery<Schemas["EventPreview"], ApiError>({
    queryKey: ["event-preview", given],
    queryFn: () => body(POST("/api/events/preview", { body: given })),
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
    (_: null, headers) => body(POST("/api/events", { body: given, headers })),
    (made) => {
      say(
        `${made.event.name}: recorded${made.touched.length ? `, ${plural(made.touched.length, "set")} touched` : ""}.`,
        () => withdraw.mutate(made.event.id),
      );
      onClose();
    },
  );
  const errors = { ...preview.error?.fields, ...record.error?.fields };
  const said = preview.error ? undefined : preview.data;
  return (
    <DialogForm onSave={() => ready && record.mutate(null)}>
      <Modal.Body className="d-grid gap-3">
        <Choice
          label="What"
          value={kind}
          onChange={setKind}
          options={offered.map((one) => [one.key, one.name])}
          error={errors.kind}
        />
        {rule?.subject === "pair" && (
          <Choice
            label="Material in the vat"
            value={other}
            onChange={setOther}
            options={materials}
            error={errors.material_id}
          />
        )}
        {rule?.subject === "bottle" && (
          <Choice
            label="Bottle"
            value={other}
            onChange={setOther}
            options={material!.bottles.map((one) => [one.id, `${one.code}, lot ${one.lot}`])}
            error={errors.bottle_id}
          />
        )}
        <div className="row g-2">
          <Form.Group className="col-7" controlId="event-at">
            <Form.Label>When</Form.Label>
            <Form.Control
              type="datetime-local"
              value={at}
              isInvalid={Boolean(errors.happened_at)}
              onChange={(event) => setAt(event.target.value)}
            />
            <Form.Control.Feedback type="invalid">{errors.happened_at}</Form.Control.Feedback>
            {!errors.happened_at && <Form.Text>Now, when left empty</Form.Text>}
          </Form.Group>
          {printer && (
            <NumberField
              className="col-5"
              label="Screen hours"
              unit="h"
              value={hours}
              onChange={setHours}
              error={errors.screen_hours}
              hint={rule?.resets_hours ? "Start again at 0" : undefined}
            />
          )}
        </div>
        <TextField label="Note" value={note} onChange={setNote} />
        {said && ready && <Touches said={said} />}
        <Trouble error={record.error && !Object.keys(record.error.fields).length ? record.error : null} />
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
function Touches({ said }: { said: Schemas["EventPreview"] }) {
  return (
    <section aria-label="What it touches">
      <p className="mb-1">
        {said.why} {said.touched.length ? `It touches ${plural(said.touched.length, "set")}:` : "It touches no set."}
      </p>
      <ul className="mb-0">
        {said.touched.slice(0, 12).map((one) => (
          <li key={one.set_code}>
            {one.material} on {one.printer}, {one.layer_height_um}
            {THIN}µm <StateMark name={one.effect === "lapse" ? "lapsed" : "due"} />
          </li>
        ))}
        {said.touched.length > 12 && <li>and {said.touched.length - 12} more</li>}
      </ul>
    </section>
  );
}
