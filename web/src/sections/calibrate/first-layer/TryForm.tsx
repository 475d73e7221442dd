import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useTechnician } from "../../../app/technician";
import { useSay } from "../../../app/toasts";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { NumberField } from "../../../shared/fields/NumberField";
import { TextField } from "../../../shared/fields/TextField";
import { Trouble } from "../../../shared/Trouble";
import { useKept } from "../../../shared/useKept";

const CHECKS = ["level", "zero", "resin", "bubbles", "scuffed"] as const;

type Try = {
  seconds: number | null;
  rating: number | null;
  thickness: number | null;
  foot: number | null;
  above: number | null;
  checked: string[];
  note: string;
};

/** One try: exposure, grip, thickness; foot and checks when there is something to say. */
export function TryForm({ view }: { view: Schemas["FirstLayerView"] }) {
  const say = useSay();
  const { initials } = useTechnician();
  const [held, setHeld, forget] = useKept<Try>(`try.${view.calibration_id}.${view.tries.length}`, {
    seconds: view.advice.base_exposure_s,
    rating: null,
    thickness: null,
    foot: null,
    above: null,
    checked: [],
    note: "",
  });
  const { seconds, rating, thickness, foot, above, checked, note } = held;
  const set = (changes: Partial<Try>) => setHeld((now) => ({ ...now, ...changes }));
  const add = useSend(
    (_: null, headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/base-tries", {
          params: { path: { calibration_id: view.calibration_id } },
          body: {
            base_exposure_s: seconds ?? 0,
            rating: rating ?? 0,
            thickness_mm: thickness,
            foot_mm: foot,
            above_mm: above,
            checked: checked as "level"[],
            note,
          },
          headers,
        }),
      ),
    () => {
      forget();
      say("The try is recorded.");
    },
  );
  const errors = add.error?.fields ?? {};
  return (
    <Form
      noValidate
      className="d-grid gap-3 mt-3"
      aria-label="Record a try"
      onSubmit={(event) => {
        event.preventDefault();
        if (rating !== null && initials) add.mutate(null);
      }}
    >
      <p className="caution mb-0">Gloves on: the square is uncured. Scraper away from your hand.</p>
      <NumberField
        label="Base exposure"
        unit="s"
        value={seconds}
        onChange={(seconds) => set({ seconds })}
        error={errors.base_exposure_s}
      />
      <fieldset>
        <legend className="form-label">Grip</legend>
        <div className="grips" role="group">
          {view.grips.map((grip, index) => (
            <Button
              key={grip}
              variant={rating === index ? "primary" : "quiet"}
              aria-pressed={rating === index}
              onClick={() => set({ rating: index })}
            >
              <b>{index}</b> {grip}
            </Button>
          ))}
        </div>
      </fieldset>
      <NumberField
        label="Thickness of the square"
        unit="mm"
        value={thickness}
        onChange={(thickness) => set({ thickness })}
        error={errors.thickness_mm}
        suggest={add.error?.suggest.thickness_mm}
        disabled={rating === 0}
      />
      <div className="row g-2">
        <NumberField
          className="col-6"
          label="Foot"
          unit="mm"
          value={foot}
          onChange={(foot) => set({ foot })}
          error={errors.foot_mm}
        />
        <NumberField
          className="col-6"
          label="Width above"
          unit="mm"
          value={above}
          onChange={(above) => set({ above })}
          error={errors.above_mm}
        />
      </div>
      <fieldset>
        <legend className="form-label">Done before this try</legend>
        {CHECKS.map((check) => (
          <Form.Check
            key={check}
            inline
            id={`check-${check}`}
            label={check}
            checked={checked.includes(check)}
            onChange={(event) =>
              set({ checked: event.target.checked ? [...checked, check] : checked.filter((one) => one !== check) })
            }
          />
        ))}
      </fieldset>
      <TextField label="Note" value={note} onChange={(note) => set({ note })} />
      {!initials && <p className="caution mb-0">Choose your initials first (top right).</p>}
      <Trouble error={add.error && !Object.keys(errors).length ? add.error : null} />
      <Button type="submit" disabled={rating === null || seconds === null || !initials || add.isPending}>
        Record the try
      </Button>
    </Form>
  );
}
