import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { DraftNote } from "../../shared/fields/DraftNote";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { Trouble } from "../../shared/Trouble";
import { PictureChoice } from "./PictureChoice";
import "../../shared/start/start.scss";

type Bench = Schemas["FirstBenchInput"];
/** Numbers stand empty until they are typed. */
type Values = {
  [Name in keyof Bench]: Bench[Name] extends number ? number | null : Bench[Name];
};

const LIGHTS: [Bench["light_engine"], string][] = [
  ["mono screen", "Mono screen"],
  ["colour screen", "Colour screen"],
  ["projector", "Projector"],
  ["laser", "Laser"],
  ["simulated", "Simulated, to try"],
];
const OPACITIES: [Bench["opacity"], string][] = [
  ["opaque", "Opaque"],
  ["tinted", "Tinted"],
  ["clear", "Clear"],
];
const WASHES: [Bench["wash"], string][] = [
  ["solvent", "In solvent"],
  ["water", "In water"],
];

/** Ten fields, and the first calibration can begin; everything else has a usual value that can be corrected on the Shelf. */
export default function BenchPage() {
  const navigate = useNavigate();
  const say = useSay();
  const { initials, choose } = useTechnician();
  const entry = useEntry<Values>(
    {
      initials: initials ?? "",
      printer: "",
      light_engine: "mono screen",
      pixel_um: null,
      plate_x_mm: null,
      plate_y_mm: null,
      resin: "",
      opacity: "opaque",
      bottle_ml: 1000,
      wash: "solvent",
    },
    "first-bench",
  );
  const save = useSend(
    // The server says which number is missing.
    (_: null, headers) => body(POST("/api/first-bench", { body: entry.values as Bench, headers })),
    (bench) => {
      entry.forget();
      choose(bench.initials);
      say("Your bench stands on the Shelf.");
      const found = new URLSearchParams({ material: bench.material_id, printer: bench.printer_id });
      void navigate(`/calibrate/new?${found.toString()}`);
    },
  );
  const { field, errors, elsewhere } = entry.checked(save.error);
  const { values } = entry;
  return (
    <>
      <PageHead title="Set up my bench" sub="what is not asked here has a usual value, to be corrected on the Shelf" />
      <form
        className="first-bench"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(null);
        }}
      >
        <DraftNote entry={entry} />
        <section className="panel" aria-label="Printer">
          <h2>Your printer</h2>
          <div className="first-fields">
            <TextField label="What you call it" {...field("printer")} autoFocus autoComplete="off" maxLength={80} />
            <NumberField label="Pixel" unit="µm" {...field("pixel_um")} hint="On its data sheet, often 20 to 50" />
            <NumberField label="Plate along X" unit="mm" {...field("plate_x_mm")} />
            <NumberField label="Plate along Y" unit="mm" {...field("plate_y_mm")} />
          </div>
          <PictureChoice
            label="Its light"
            value={values.light_engine}
            options={LIGHTS}
            onChange={(light_engine) => entry.set({ light_engine })}
          />
        </section>
        <section className="panel" aria-label="Resin">
          <h2>Your resin</h2>
          <div className="first-fields">
            <TextField label="Name and colour on the bottle" {...field("resin")} autoComplete="off" maxLength={80} />
            <NumberField label="In the bottle" unit="ml" {...field("bottle_ml")} />
          </div>
          <PictureChoice
            label="It looks"
            value={values.opacity}
            options={OPACITIES}
            onChange={(opacity) => entry.set({ opacity })}
          />
        </section>
        <section className="panel" aria-label="You">
          <h2>You, and how you finish parts</h2>
          <div className="first-fields">
            <TextField
              label="Your initials"
              {...field("initials")}
              error={errors.initials && "Give one to four letters."}
              autoComplete="off"
              maxLength={4}
              hint="They stand at everything you enter"
            />
          </div>
          <PictureChoice
            label="Parts are washed"
            value={values.wash}
            options={WASHES}
            onChange={(wash) => entry.set({ wash })}
          />
          <p className="caution mb-0 mt-3">
            Gloves and eye protection with uncured resin, solvent away from heat and sparks. The safety sheet and local
            rules come first.
          </p>
        </section>
        <Trouble error={elsewhere} />
        <Button type="submit" disabled={save.isPending}>
          Save and plan the first coupons
        </Button>
      </form>
    </>
  );
}
