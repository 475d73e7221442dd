import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useTechnician } from "../../../app/people/technician";
import { useSay } from "../../../app/toasts";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { NumberField } from "../../../shared/fields/NumberField";
import { TextField } from "../../../shared/fields/TextField";
import { DraftNote } from "../../../shared/fields/DraftNote";
import { useEntry } from "../../../shared/fields/useEntry";
import { Trouble } from "../../../shared/Trouble";
import { wordsOf } from "../../../shared/words";

type Check = NonNullable<Schemas["BaseTryInput"]["checked"]>[number];
const CHECKS = wordsOf<Check>({ level: "level", zero: "zero", resin: "resin", bubbles: "bubbles", scuffed: "scuffed" });

type Try = {
  base_exposure_s: number | null;
  rating: number | null;
  thickness_mm: number | null;
  foot_mm: number | null;
  above_mm: number | null;
  checked: Check[];
  note: string;
};

/** One try: exposure, grip, thickness; foot and checks when there is something to say. */
export function TryForm({ view }: { view: Schemas["FirstLayerView"] }) {
  const say = useSay();
  const { initials } = useTechnician();
  const entry = useEntry<Try>(
    {
      base_exposure_s: view.advice.base_exposure_s,
      rating: null,
      thickness_mm: null,
      foot_mm: null,
      above_mm: null,
      checked: [],
      note: "",
    },
    `try.${view.calibration_id}.${view.tries.length}`,
  );
  const { values, set } = entry;
  const { base_exposure_s, rating, checked } = values;
  const add = useSend(
    (_: null, headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/base-tries", {
          params: { path: { calibration_id: view.calibration_id } },
          body: { ...values, base_exposure_s: base_exposure_s ?? 0, rating: rating ?? 0 },
          headers,
        }),
      ),
    () => {
      entry.forget();
      say("The try is recorded.");
    },
  );
  const { field, elsewhere } = entry.checked(add.error);
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
      <DraftNote entry={entry} className="mb-0" />
      <p className="caution mb-0">Gloves on: the square is uncured. Scraper away from your hand.</p>
      <NumberField label="Base exposure" unit="s" {...field("base_exposure_s")} />
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
      <NumberField label="Thickness of the square" unit="mm" {...field("thickness_mm")} disabled={rating === 0} />
      <div className="row g-2">
        <NumberField className="col-6" label="Foot" unit="mm" {...field("foot_mm")} />
        <NumberField className="col-6" label="Width above" unit="mm" {...field("above_mm")} />
      </div>
      <fieldset>
        <legend className="form-label">Done before this try</legend>
        {CHECKS.map(([check, word]) => (
          <Form.Check
            key={check}
            inline
            id={`check-${check}`}
            label={word}
            checked={checked.includes(check)}
            onChange={(event) =>
              set({ checked: event.target.checked ? [...checked, check] : checked.filter((one) => one !== check) })
            }
          />
        ))}
      </fieldset>
      <TextField label="Note" {...field("note")} />
      {!initials && <p className="caution mb-0">Choose your initials first (top right).</p>}
      <Trouble error={elsewhere} />
      <Button type="submit" disabled={rating === null || base_exposure_s === null || !initials || add.isPending}>
        Record the try
      </Button>
    </Form>
  );
}
