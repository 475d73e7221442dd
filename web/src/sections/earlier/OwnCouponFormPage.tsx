import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas, upload } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { CouponDrawing } from "../../shared/coupon/CouponDrawing";
import { Choice } from "../../shared/fields/Choice";
import { FileField } from "../../shared/fields/FileField";
import { NumberField } from "../../shared/fields/NumberField";
import { SizesField } from "../../shared/fields/SizesField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { useOpened } from "../../shared/fields/useOpened";

type Own = Schemas["OwnCouponView"];
type Series = {
  name: string;
  lost_by: Schemas["OwnSeries"]["lost_by"];
  sizes_mm: number[] | null;
  each: number | null;
};
type Length = { name: string; kind: "outer" | "inner"; nominal_mm: number | null; axis: "x" | "y" | null };
const LOST_BY: [Series["lost_by"], string][] = [
  ["less light", "too little light loses them (pins, walls)"],
  ["more light", "too much light closes them (holes, slots)"],
  ["support", "support tips that let go"],
];
const NO_SERIES: Series = { name: "", lost_by: "less light", sizes_mm: null, each: 1 };
const NO_LENGTH: Length = { name: "", kind: "outer", nominal_mm: null, axis: null };

/** A coupon of one's own: what is counted on it, what is measured, what goes and does not go. */
export default function OwnCouponFormPage() {
  const { code } = useParams();
  const stored = useGet("/api/own-coupons/{code}", code ? { params: { path: { code } } } : null);
  if (!code) return <OwnCouponForm stored={null} />;
  return (
    <Loaded page query={stored}>
      {(one) => <OwnCouponForm key={one.code} stored={one} onChanged={() => void stored.refetch()} />}
    </Loaded>
  );
}

function OwnCouponForm({ stored, onChanged }: { stored: Own | null; onChanged?: () => void }) {
  const navigate = useNavigate();
  const say = useSay();
  const described = stored?.description as { series?: Series[]; lengths?: Length[]; go_no_go?: boolean } | undefined;
  const entry = useEntry(
    {
      name: stored?.name ?? "",
      thickness_mm: (stored?.thickness_mm ?? null) as number | null,
      volume_ml: (stored?.volume_ml ?? null) as number | null,
      width_mm: (stored?.width_mm ?? 50) as number | null,
      height_mm: (stored?.height_mm ?? 30) as number | null,
      series: described?.series ?? [NO_SERIES],
      lengths: described?.lengths ?? [],
      go_no_go: described?.go_no_go ?? false,
      note: stored?.note ?? "",
    },
    stored ? undefined : "own-coupon.new",
  );
  const { values, set } = entry;
  const version = useOpened(stored?.version ?? null);
  const save = useSend(
    (_: null, headers) => {
      const request = {
        ...values,
        thickness_mm: values.thickness_mm ?? 0,
        volume_ml: values.volume_ml ?? 0,
        width_mm: values.width_mm ?? 0,
        height_mm: values.height_mm ?? 0,
        series: values.series
          .filter((one) => one.name.trim() || one.sizes_mm)
          .map((one) => ({ ...one, sizes_mm: one.sizes_mm ?? [], each: one.each ?? 1 })),
        lengths: values.lengths.map((one) => ({ ...one, nominal_mm: one.nominal_mm ?? 0 })),
        version,
      };
      return body(
        stored
          ? PUT("/api/own-coupons/{code}", { params: { path: { code: stored.code } }, body: request })
          : POST("/api/own-coupons", { body: request, headers }),
      );
    },
    (one) => {
      entry.forget();
      say(`${one.name} is described as ${one.code}.`);
      void navigate("/shelf/coupons/own");
    },
  );
  const { field, errors, elsewhere } = entry.checked(save.error);
  const series = (at: number, change: Partial<Series>) =>
    set({ series: values.series.map((one, other) => (other === at ? { ...one, ...change } : one)) });
  const length = (at: number, change: Partial<Length>) =>
    set({ lengths: values.lengths.map((one, other) => (other === at ? { ...one, ...change } : one)) });
  return (
    <>
      <PageHead
        title={stored ? stored.name : "Describe a coupon"}
        sub={stored ? `${stored.code}; what was printed keeps the description it had` : "One you print already"}
      />
      <form
        className="panel d-grid gap-3"
        style={{ maxWidth: "56rem" }}
        aria-label="Own coupon"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(null);
        }}
      >
        <div className="row g-3">
          <TextField className="col-sm-4" label="What you call it" {...field("name")} placeholder="Harbour fan" />
          <NumberField className="col-sm-4" label="Height above the plate" unit="mm" {...field("thickness_mm")} />
          <NumberField className="col-sm-4" label="Resin for one" unit="ml" {...field("volume_ml")} />
          <NumberField className="col-sm-4" label="Along the plate" unit="mm" {...field("width_mm")} />
          <NumberField className="col-sm-4" label="Across it" unit="mm" {...field("height_mm")} />
        </div>
        {errors.series && <p className="text-danger mb-0">{errors.series}</p>}
        {values.series.map((one, at) => (
          <fieldset key={at} aria-label={`Series ${at + 1}`}>
            <legend className="fs-6 fw-bold">Counted: series {at + 1}</legend>
            <div className="row g-3">
              <TextField
                className="col-sm-3"
                label="Name"
                value={one.name}
                onChange={(name) => series(at, { name })}
                error={errors[`series.${at}.name`]}
                placeholder="pins"
              />
              <div className="col-sm-4">
                <Choice
                  label="What loses them"
                  value={one.lost_by}
                  onChange={(lost_by) => series(at, { lost_by })}
                  options={LOST_BY}
                />
              </div>
              <div className="col-sm-3">
                <SizesField
                  label="Sizes, small to large"
                  unit="mm"
                  values={one.sizes_mm}
                  usual="0.1  0.2  0.4"
                  onChange={(sizes_mm) => series(at, { sizes_mm })}
                  error={errors[`series.${at}.sizes_mm`]}
                />
              </div>
              <NumberField
                className="col-sm-2"
                label="Of each"
                value={one.each}
                onChange={(each) => series(at, { each })}
                error={errors[`series.${at}.each`]}
              />
            </div>
          </fieldset>
        ))}
        {values.lengths.map((one, at) => (
          <fieldset key={at} aria-label={`Length ${at + 1}`}>
            <legend className="fs-6 fw-bold">Measured: length {at + 1}</legend>
            <div className="row g-3">
              <TextField
                className="col-sm-3"
                label="Name"
                value={one.name}
                onChange={(name) => length(at, { name })}
                error={errors[`lengths.${at}.name`]}
                placeholder="long bar"
              />
              <div className="col-sm-3">
                <Choice
                  label="Over what"
                  value={one.kind}
                  onChange={(kind) => length(at, { kind })}
                  options={[
                    ["outer", "over a bar"],
                    ["inner", "across a notch"],
                  ]}
                />
              </div>
              <NumberField
                className="col-sm-3"
                label="Drawn size"
                unit="mm"
                value={one.nominal_mm}
                onChange={(nominal_mm) => length(at, { nominal_mm })}
                error={errors[`lengths.${at}.nominal_mm`]}
              />
              <div className="col-sm-3">
                <Choice
                  label="Along"
                  value={one.axis ?? ""}
                  onChange={(axis) => length(at, { axis: axis || null })}
                  options={[
                    ["x", "X"],
                    ["y", "Y"],
                  ]}
                  none="not noted"
                />
              </div>
            </div>
          </fieldset>
        ))}
        <div className="d-flex flex-wrap gap-2">
          <Button variant="quiet" onClick={() => set({ series: [...values.series, NO_SERIES] })}>
            Add a series
          </Button>
          <Button variant="quiet" onClick={() => set({ lengths: [...values.lengths, NO_LENGTH] })}>
            Add a length
          </Button>
          <Form.Check
            id="go-no-go"
            className="align-self-center"
            label="A piece that should go and one that should not"
            checked={values.go_no_go}
            onChange={(event) => set({ go_no_go: event.target.checked })}
          />
        </div>
        <TextField label="Note" {...field("note")} lines={2} />
        <Trouble error={elsewhere} />
        <div className="d-flex gap-2">
          <Button type="submit" disabled={save.isPending || !values.name.trim()}>
            {stored ? "Save the description" : "Save"}
          </Button>
          {stored && <Retire own={stored} />}
        </div>
      </form>
      {stored && (
        <section className="panel mt-3" style={{ maxWidth: "56rem" }} aria-label="What is read on it">
          <h2>What is read on it</h2>
          <CouponDrawing plan={stored.plan} states={{}} label={`What is read on ${stored.name}`} />
          <Picture own={stored} onChanged={onChanged} />
        </section>
      )}
    </>
  );
}

function Retire({ own }: { own: Own }) {
  const say = useSay();
  const navigate = useNavigate();
  const path = { params: { path: { code: own.code } } };
  const restore = useSend((_: null) => body(POST("/api/own-coupons/{code}/restore", path)));
  const retire = useSend(
    (_: null) => body(POST("/api/own-coupons/{code}/retire", path)),
    () => {
      say(`${own.name} is retired.`, () => restore.mutate(null));
      void navigate("/shelf/coupons/own");
    },
  );
  return (
    <Button variant="quiet" disabled={retire.isPending} onClick={() => retire.mutate(null)}>
      Retire it
    </Button>
  );
}

function Picture({ own, onChanged }: { own: Own; onChanged?: () => void }) {
  const [shown, setShown] = useState(0);
  const add = useSend(
    (file: File) => upload<Own>(`/api/own-coupons/${own.code}/photo`, "photo", file),
    () => {
      setShown(shown + 1);
      onChanged?.();
    },
  );
  return (
    <div className="mt-3">
      {own.has_photo && (
        <img className="mw-100 mb-2" src={`/api/own-coupons/${own.code}/photo?${shown}`} alt={own.name} />
      )}
      <FileField
        label={own.has_photo ? "Another picture" : "A picture of it"}
        accept="image/jpeg,image/png"
        disabled={add.isPending}
        onChoose={(file) => add.mutate(file)}
        error={add.error?.fields.photo}
      />
    </div>
  );
}
