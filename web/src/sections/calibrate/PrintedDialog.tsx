import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { TextField } from "../../shared/fields/TextField";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { useEntry } from "../../shared/fields/useEntry";
import { exposure, millilitres, plural, THIN } from "../../shared/format";
import {
  isAtStart,
  NO_START,
  type Start,
  startBody,
  StartTemperature,
  TEMP_PLACES,
} from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import { wordsOf } from "../../shared/words";

type Card = Schemas["CouponCard"];
type Outcome = Schemas["PrintedInput"]["outcome"];
type Values = { start: Start; outcome: Outcome; seen: string; volume_ml: number | null; from_bottle: boolean };
const OUTCOMES = wordsOf<Outcome>({ whole: "whole", "missing parts": "missing parts", failed: "failed" });

/** Where the last temperature was measured. */
const lastPlace = (): Start["place"] =>
  TEMP_PLACES.find(([place]) => place === localStorage.getItem("setback.place"))?.[0] ?? "room";

/** A print came out: how warm it was, how it looks, and what that holds up. */
export function PrintedDialog({
  calibration,
  card,
  kin,
  together = [],
  onClose,
}: {
  calibration: Pick<
    Schemas["CalibrationView"],
    "printer_id" | "exposure_step_s" | "bottle_id" | "bottle" | "bottle_left_ml" | "bottle_poured"
  >;
  card: Card;
  kin: Card[];
  /** Prints that came out alike, this one among them; none: it alone. */
  together?: string[];
  onClose: () => void;
}) {
  const say = useSay();
  // All coupons of a print carry its whole millilitres.
  const entry = useEntry<Values>(() => ({
    start: { ...NO_START, place: lastPlace() },
    outcome: "whole",
    seen: "",
    volume_ml: Number(card.volume_ml.toPrecision(2)),
    from_bottle: calibration.bottle_id !== null && !calibration.bottle_poured,
  }));
  const { start, outcome, seen, volume_ml, from_bottle } = entry.values;
  const isMany = together.length > 1;
  const path = { params: { path: { print_id: card.print_id } } };
  const undo = useSend(async (_: null): Promise<unknown> =>
    isMany
      ? body(POST("/api/prints-together/unprinted", { body: { print_ids: together } }))
      : body(POST("/api/prints/{print_id}/unprinted", path)),
  );
  const done = useSend(
    async (_: null, headers): Promise<unknown> => {
      const alike = { ...startBody(start), outcome, seen, bottle_id: from_bottle ? calibration.bottle_id : null };
      return isMany
        ? body(POST("/api/prints-together/printed", { body: { ...alike, print_ids: together }, headers }))
        : body(POST("/api/prints/{print_id}/printed", { ...path, body: { ...alike, volume_ml }, headers }));
    },
    () => {
      localStorage.setItem("setback.place", start.place);
      say(
        isMany
          ? `${plural(together.length, "print")} are printed. Wash, dry and cure them before reading.`
          : `${kin.length > 1 ? card.print_code : card.code} is printed. Wash, dry and cure it before reading.`,
        () => undo.mutate(null),
      );
      onClose();
    },
    {
      waits: {
        words: () => `${isMany ? plural(together.length, "print") : card.print_code} came out`,
        onKept() {
          say("It waits in this device.");
          onClose();
        },
      },
    },
  );
  const { field, errors, elsewhere } = entry.checked(done.error);
  const what =
    kin.length > 1
      ? `${card.print_code}, ${plural(kin.length, card.way === "strip" ? "area" : "coupon")},`
      : `${card.code} at ${exposure(card.exposure_s, calibration.exposure_step_s)}${THIN}s`;
  return (
    <FormDialog
      title={isMany ? `All ${together.length} are printed` : `${what} is printed`}
      action="Mark as printed"
      saving={done.isPending}
      error={null}
      onSave={() => done.mutate(null)}
      onClose={onClose}
    >
      <p className="caution mb-0">Gloves on: the coupon is uncured. Solvent away from heat and sparks.</p>
      {card.way === "strip" && (
        <p className="caution mb-0">Switch the lift back on now: the next normal print waits until that is said.</p>
      )}
      <div className="start-fields">
        <StartTemperature autoFocus printer={calibration.printer_id} {...field("start")} errors={errors} />
      </div>
      <p className="small text-secondary mb-0">A set is valid only near this temperature.</p>
      <fieldset>
        <legend className="form-label">It came out</legend>
        <div className="btn-group w-100" role="group" aria-label="It came out">
          {OUTCOMES.map(([one, word]) => (
            <Button
              key={one}
              variant={outcome === one ? "primary" : "quiet"}
              aria-pressed={outcome === one}
              onClick={() => entry.set({ outcome: one })}
            >
              {word}
            </Button>
          ))}
        </div>
        {outcome !== "whole" && (
          <Form.Text>The next print on this printer waits until the vat is searched and the film checked.</Form.Text>
        )}
      </fieldset>
      <TextField label="What was seen" {...field("seen")} />
      <div className="row g-2 align-items-end">
        {!isMany && <NumberField className="col-5" label="Resin used" unit="ml" {...field("volume_ml")} />}
        {calibration.bottle_id && (
          <div className="col-7">
            <Form.Check
              id="from-bottle"
              label={`Take it from bottle ${calibration.bottle}`}
              checked={from_bottle}
              isInvalid={Boolean(errors.bottle_id)}
              feedback={errors.bottle_id}
              feedbackType="invalid"
              onChange={(event) => entry.set({ from_bottle: event.target.checked })}
            />
            <Form.Text>
              {calibration.bottle_poured
                ? "Pours into this vat are noted: they have taken it off the bottle already."
                : `${millilitres(calibration.bottle_left_ml ?? 0)} are left in it.`}
            </Form.Text>
          </div>
        )}
      </div>
      <Trouble error={isAtStart(errors) || errors.bottle_id ? null : elsewhere} />
    </FormDialog>
  );
}
