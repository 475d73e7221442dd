import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { exposure, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { MEASURES } from "./studies";
import "./practice.scss";

type Draft = {
  measure: "edges" | "plug";
  coupons: string[];
  technicians: string[];
  with_picture_reader: boolean;
  repeats: number | null;
  tolerance_um: number | null;
  note: string;
};

/** Who reads which coupons how often: each reader's order is drawn by lot. */
export default function PlanStudyPage() {
  const choice = useGet("/api/gauge-studies/choice", {});
  const technicians = useGet("/api/technicians", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Plan a gauge study" />
      <Loaded query={choice}>
        {({ coupons }) =>
          coupons.length < 2 ? (
            <EmptyState purpose="A study needs two printed flat coupons at least. Print some in a calibration first." />
          ) : (
            <Loaded query={technicians}>{(people) => <Plan coupons={coupons} people={people} />}</Loaded>
          )
        }
      </Loaded>
    </>
  );
}

type PlanProps = { coupons: Schemas["StudyCoupon"][]; people: { initials: string; retired_at?: string | null }[] };

function Plan({ coupons, people }: PlanProps) {
  const navigate = useNavigate();
  const say = useSay();
  const working = people.filter((one) => !one.retired_at);
  const entry = useEntry<Draft>(
    {
      measure: "edges",
      coupons: [],
      technicians: working.map((one) => one.initials),
      with_picture_reader: false,
      repeats: 2,
      tolerance_um: null,
      note: "",
    },
    "gauge-study",
  );
  const draft = entry.values;
  const plan = useSend(
    (_: null, headers) =>
      body(POST("/api/gauge-studies", { body: { ...draft, repeats: draft.repeats ?? 0 }, headers })),
    (made) => {
      entry.forget();
      say(`Study ${made.code} is planned. Each reader’s order is drawn by lot.`);
      void navigate(`/practice/studies/${made.code}`);
    },
  );
  const { errors, elsewhere, field } = entry.checked(plan.error);
  const fitting = coupons.filter((one) => one.measures.includes(draft.measure));
  const chosen = draft.coupons.filter((code) => fitting.some((one) => one.code === code));
  const readers = draft.technicians.length + Number(draft.with_picture_reader);
  const turns = chosen.length * readers * (draft.repeats ?? 0);
  const toggled = (list: string[], one: string) =>
    list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
  return (
    <form
      className="panel d-grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        plan.mutate(null);
      }}
    >
      <Choice
        label="What is read"
        value={draft.measure}
        onChange={(measure) => entry.set({ measure })}
        options={[
          ["edges", `${MEASURES.edges.name}: ${MEASURES.edges.what}`],
          ["plug", `${MEASURES.plug.name}: ${MEASURES.plug.what}`],
        ]}
      />
      <fieldset>
        <legend className="form-label">
          Coupons, from under to over: five or more say most ({chosen.length} chosen)
        </legend>
        <div className="choices">
          {fitting.map((one) => (
            <Form.Check
              key={one.code}
              id={`coupon-${one.code}`}
              label={`${one.code} · ${exposure(one.exposure_s)}${THIN}s · ${one.material}, ${one.calibration_code}`}
              checked={draft.coupons.includes(one.code)}
              onChange={() => entry.set({ coupons: toggled(draft.coupons, one.code) })}
            />
          ))}
        </div>
        {errors.coupons && <p className="trouble mb-0">{errors.coupons}</p>}
      </fieldset>
      <fieldset>
        <legend className="form-label">Who reads</legend>
        <div className="d-flex flex-wrap gap-3">
          {working.map(({ initials }) => (
            <Form.Check
              key={initials}
              id={`reader-${initials}`}
              label={initials}
              checked={draft.technicians.includes(initials)}
              onChange={() => entry.set({ technicians: toggled(draft.technicians, initials) })}
            />
          ))}
          <Form.Check
            id="reader-picture"
            label="the picture reader, by a picture a turn"
            checked={draft.with_picture_reader}
            onChange={(event) => entry.set({ with_picture_reader: event.target.checked })}
          />
        </div>
        {errors.technicians && <p className="trouble mb-0">{errors.technicians}</p>}
      </fieldset>
      <div className="row g-3">
        <div className="col-sm-6">
          <NumberField label="How often each reads each coupon" {...field("repeats")} />
        </div>
        <div className="col-sm-6">
          <NumberField
            label="What edge growth may be, whole width"
            unit="µm"
            hint="empty: the narrowest limit of the coupons’ calibrations"
            {...field("tolerance_um")}
          />
        </div>
      </div>
      <TextField label="Note" value={draft.note} onChange={(note) => entry.set({ note })} lines={2} />
      <Trouble error={elsewhere} />
      <div className="d-flex flex-wrap gap-3 align-items-center">
        <Button type="submit" disabled={plan.isPending}>
          Plan the study
        </Button>
        <span className="text-secondary">
          {turns > 0
            ? `${plural(turns, "reading")}, ${plural(turns / Math.max(readers, 1), "reading")} each`
            : "Choose coupons and readers."}
        </span>
      </div>
    </form>
  );
}
