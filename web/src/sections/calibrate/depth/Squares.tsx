import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useTechnician } from "../../../app/people/technician";
import { useSay } from "../../../app/toasts";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { SizesField } from "../../../shared/fields/SizesField";
import { exposure, THIN, inUnit, quantity } from "../../../shared/format";
import { Trouble } from "../../../shared/Trouble";
import { useKept } from "../../../shared/useKept";
import type { Calibration } from "../model";

type Depth = Schemas["DepthView"];
type Square = Schemas["SquareView"];

/** The squares in the order of time, each with its caliper readings. */
export function Squares({ depth, calibration }: { depth: Depth; calibration: Calibration }) {
  if (!depth.squares.length) return null;
  return (
    <ul className="squares" aria-label="Depth squares">
      {depth.squares.map((square) => (
        <li key={square.id}>
          <SquareCard square={square} calibration={calibration} step={depth.exposure_step_s} />
        </li>
      ))}
    </ul>
  );
}

type CardProps = { square: Square; calibration: Calibration; step: number };

function SquareCard({ square, calibration, step }: CardProps) {
  const say = useSay();
  const [editing, setEditing] = useState(false);
  const path = { params: { path: { square_id: square.id } } };
  const open = !calibration.closed_at && (square.reading_id === null || editing);
  const back = useSend((_: null) => body(POST("/api/depth-squares/{square_id}/found", path)));
  const remove = useSend(
    (_: null) =>
      body(POST("/api/depth-squares/{square_id}/gone", { ...path, body: { reason: "removed on the page" } })),
    () => say(`${square.code} is out.`, () => back.mutate(null)),
  );
  return (
    <article className="tray-card" aria-label={`Square ${square.code}`}>
      <div className="head">
        <span className="exposure num">
          {exposure(square.exposure_s, step)}
          {THIN}s
        </span>
        <span className="num">{square.code}</span>
      </div>
      {square.mean_mm !== null && !editing && (
        <>
          <b className="num key">{quantity(square.mean_mm, "mm", 3)}</b>
          <span className="small text-secondary">
            {square.thicknesses_mm.map((value) => inUnit(value, "mm", 2)).join(", ")} · {square.initials}
            {square.earlier > 0 && ` · corrected ${square.earlier === 1 ? "once" : `${square.earlier} times`}`}
          </span>
        </>
      )}
      {open && <MeasureForm square={square} simulated={calibration.simulated} onDone={() => setEditing(false)} />}
      {!calibration.closed_at && (
        <div className="acts no-print">
          {square.reading_id && !editing && (
            <Button size="sm" variant="quiet" aria-label={`Correct ${square.code}`} onClick={() => setEditing(true)}>
              Correct…
            </Button>
          )}
          <Button size="sm" variant="quiet" onClick={() => remove.mutate(null)} aria-label={`Remove ${square.code}`}>
            Remove
          </Button>
        </div>
      )}
    </article>
  );
}

/** Caliper readings of one square; a correction says why. */
function MeasureForm({ square, simulated, onDone }: { square: Square; simulated: boolean; onDone: () => void }) {
  const say = useSay();
  const { initials } = useTechnician();
  const [values, setValues, forget] = useKept<number[] | null>(
    `square.${square.id}`,
    square.reading_id ? square.thicknesses_mm : null,
  );
  const [reason, setReason] = useState("");
  const path = { params: { path: { square_id: square.id } } };
  const measure = useSend(
    (thicknesses_mm: number[], headers) =>
      body(
        POST("/api/depth-squares/{square_id}/readings", {
          ...path,
          body: {
            thicknesses_mm,
            temp_c: null,
            note: "",
            supersedes_id: square.reading_id,
            reason: square.reading_id ? reason : null,
          },
          headers,
        }),
      ),
    () => {
      say(`${square.code} is measured.`);
      forget();
      onDone();
    },
    {
      waits: {
        words: () => `Thickness of ${square.code}`,
        onKept() {
          say(`${square.code} waits in this device.`);
          forget();
          onDone();
        },
      },
    },
  );
  const virtual = useSend(
    (_: null) => body(POST("/api/depth-squares/{square_id}/virtual-reading", path)),
    (seen) => setValues(seen.thicknesses_mm),
  );
  const errors = measure.error?.fields ?? {};
  const said = Object.entries(errors).find(([name]) => name.startsWith("thicknesses_mm"))?.[1];
  const suggested = Object.entries(measure.error?.suggest ?? {})[0];
  return (
    <form
      className="d-grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (values && initials) measure.mutate(values);
      }}
    >
      <SizesField
        label={`Thickness of ${square.code}`}
        unit="mm"
        values={values}
        onChange={setValues}
        error={said}
        hint="Several places, spaces between"
      />
      {suggested && (
        <Button
          size="sm"
          variant="quiet"
          onClick={() =>
            setValues(
              (values ?? []).map((value, index) => (suggested[0] === `thicknesses_mm.${index}` ? suggested[1] : value)),
            )
          }
        >
          Take {suggested[1]}
          {THIN}mm
        </Button>
      )}
      {square.reading_id && (
        <Form.Group controlId={`reason-${square.id}`}>
          <Form.Label>Why it is corrected</Form.Label>
          <Form.Control
            value={reason}
            isInvalid={Boolean(errors.reason)}
            onChange={(event) => setReason(event.target.value)}
          />
          <Form.Control.Feedback type="invalid">Say why in a few words.</Form.Control.Feedback>
        </Form.Group>
      )}
      {simulated && (
        <Button size="sm" variant="quiet" onClick={() => virtual.mutate(null)}>
          Let the simulated reader measure
        </Button>
      )}
      <Trouble error={virtual.error} />
      {!said && !errors.reason && <Trouble error={measure.error} />}
      {!initials && <span className="small">Choose your initials first (top right).</span>}
      <Button type="submit" size="sm" disabled={!values || !initials || measure.isPending}>
        Save
      </Button>
    </form>
  );
}
