import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { day, percent, size, millimetres, plain } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { PlateMap } from "../../shared/plate/PlateMap";
import { ShelfTabs } from "./ShelfTabs";
import "./plate.scss";
import { useGet } from "../../shared/api/useGet";

type View = Schemas["PlateView"];

/** A printer's plate: how even its light is, which cells an exposure suits, and where its marks are. */
export default function PlatePage() {
  const { id = "" } = useParams();
  const [asked, setAsked] = useState<{
    exposure_s: number | null;
    window_lower_s: number | null;
    window_upper_s: number | null;
  }>({ exposure_s: null, window_lower_s: null, window_upper_s: null });
  const complete =
    asked.exposure_s !== null &&
    asked.window_lower_s !== null &&
    asked.window_upper_s !== null &&
    asked.window_upper_s > asked.window_lower_s;
  const plate = useGet(
    "/api/printers/{printer_id}/plate",
    {
      params: {
        path: { printer_id: id },
        query: complete
          ? {
              exposure_s: asked.exposure_s,
              window_lower_s: asked.window_lower_s,
              window_upper_s: asked.window_upper_s,
            }
          : {},
      },
    },
    { placeholderData: (held) => held },
  );
  return (
    <Loaded page query={plate}>
      {(view) => (
        <>
          <PageHead
            title={`${view.printer}: plate`}
            sub={view.map ? `${view.map.source}, ${day(view.map.measured_at)}, ${view.map.initials}` : undefined}
          />
          <div className="mb-3">
            <ShelfTabs here="printers" />
          </div>
          <div className="coupon-kind">
            <section className="panel" aria-label="Plate">
              {!view.map && (
                <>
                  <h2>Is light even over this plate?</h2>
                  <p>
                    Light readings in a grid, or the growth of a grid coupon, tell which part of the plate stays inside
                    a window. Known marks of screen and film are kept here too: layouts keep coupons off them.
                  </p>
                </>
              )}
              <PlateMap view={view} judged={complete} />
              {view.result && view.map && (
                <p className="mb-0">
                  Darkest to brightest <b className="num">{percent(view.result.min_over_max)}</b>.
                  {complete && (
                    <>
                      {" "}
                      Usable: <b className="num">{percent(view.result.usable_fraction)}</b> of the plate at{" "}
                      {plain(asked.exposure_s)} s.
                    </>
                  )}{" "}
                  {view.result.warnings.map((one) => one.message).join(" ")}
                </p>
              )}
            </section>
            <aside className="panel" aria-label="Map and marks">
              {view.map && (
                <>
                  <h2>At which exposure?</h2>
                  {view.sets.length > 0 && (
                    <Choice
                      label="Of an issued set"
                      value={
                        view.sets.find(
                          (one) => one.exposure_s === asked.exposure_s && one.lower_s === asked.window_lower_s,
                        )?.code ?? ""
                      }
                      none="type it"
                      options={view.sets.map((one) => [
                        one.code,
                        `${one.code}: ${one.material}, ${one.layer_height_um} µm, ${plain(one.exposure_s)} s`,
                      ])}
                      onChange={(code) => {
                        const held = view.sets.find((one) => one.code === code);
                        setAsked(
                          held
                            ? {
                                exposure_s: held.exposure_s,
                                window_lower_s: held.lower_s,
                                window_upper_s: held.upper_s,
                              }
                            : { exposure_s: null, window_lower_s: null, window_upper_s: null },
                        );
                      }}
                    />
                  )}
                  <div className="fields mb-3">
                    <NumberField
                      label="Exposure"
                      unit="s"
                      value={asked.exposure_s}
                      onChange={(value) => setAsked({ ...asked, exposure_s: value })}
                    />
                    <NumberField
                      label="Window from"
                      unit="s"
                      value={asked.window_lower_s}
                      onChange={(value) => setAsked({ ...asked, window_lower_s: value })}
                    />
                    <NumberField
                      label="to"
                      unit="s"
                      value={asked.window_upper_s}
                      onChange={(value) => setAsked({ ...asked, window_upper_s: value })}
                      error={
                        asked.window_lower_s !== null &&
                        asked.window_upper_s !== null &&
                        asked.window_upper_s <= asked.window_lower_s
                          ? "Above the lower end."
                          : undefined
                      }
                    />
                  </div>
                </>
              )}
              <FromGrid view={view} />
              <NewMap view={view} key={view.map?.id ?? "none"} />
              <Marks view={view} />
            </aside>
          </div>
        </>
      )}
    </Loaded>
  );
}

/** A read grid coupon becomes the map: its growth against that of the same arm's coupons. */
function FromGrid({ view }: { view: View }) {
  const say = useSay();
  const make = useSend(
    (coupon: string, headers) =>
      body(
        POST("/api/printers/{printer_id}/plate-maps/from-grid", {
          params: { path: { printer_id: view.printer_id } },
          body: { coupon },
          headers,
        }),
      ),
    (_, coupon) => say(`The map is made of ${coupon}.`),
  );
  if (!view.grids.length) return null;
  return (
    <div className="mb-3">
      <h2>From a grid coupon</h2>
      {view.grids.map((code) => (
        <Button key={code} variant="quiet" className="me-2" disabled={make.isPending} onClick={() => make.mutate(code)}>
          Make the map of {code}
        </Button>
      ))}
      <Trouble error={make.error} className="mt-2" />
    </div>
  );
}

type MapDraft = {
  source: Schemas["PlateMapInput"]["source"];
  /** As typed: a row of the plate per line. */
  readings: string;
  row: number | null;
  column: number | null;
};

function NewMap({ view }: { view: View }) {
  const say = useSay();
  const { initials } = useTechnician();
  const [open, setOpen] = useState(!view.map);
  const entry = useEntry<MapDraft>({ source: "light meter", readings: "", row: null, column: null });
  const { source, readings: text, row, column } = entry.values;
  const readings = text
    .trim()
    .split("\n")
    .map((line) =>
      line
        .trim()
        .split(/[;\s]+/)
        .filter(Boolean)
        .map((part) => Number(part.replace(",", "."))),
    );
  const bad = text.trim() !== "" && readings.some((line) => line.some((value) => !Number.isFinite(value)));
  const cell: [number, number] | null = row !== null && column !== null ? [row - 1, column - 1] : null;
  const back = useSend((id: string) =>
    body(POST("/api/plate-maps/{map_id}/retire", { params: { path: { map_id: id } } })),
  );
  const add = useSend(
    (_: null, headers) =>
      body(
        POST("/api/printers/{printer_id}/plate-maps", {
          params: { path: { printer_id: view.printer_id } },
          body: { source, readings, reference_cell: cell, note: "" },
          headers,
        }),
      ),
    ({ map }) => {
      say("The map is kept.", map ? () => back.mutate(map.id) : undefined);
      setOpen(false);
    },
  );
  const { field, errors, elsewhere } = entry.checked(add.error);
  const problem = bad
    ? "Give numbers, a row per line."
    : (errors.readings ?? Object.entries(errors).find(([name]) => name.startsWith("readings"))?.[1]);
  if (!open)
    return (
      <Button variant="quiet" className="mb-3" onClick={() => setOpen(true)}>
        Measure again…
      </Button>
    );
  return (
    <Form
      noValidate
      className="d-grid gap-3 mb-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!bad && text.trim()) add.mutate(null);
      }}
    >
      <h2 className="mb-0">New map</h2>
      <p className="caution mb-0">Never look into the light; cover the vat while you measure.</p>
      <Choice
        label="Measured with"
        {...field("source")}
        options={[
          ["light meter", "light meter"],
          ["grid coupon", "grid coupon (dose)"],
        ]}
      />
      <TextField
        label="Readings, a row of the plate per line"
        lines={4}
        {...field("readings")}
        error={problem}
        placeholder={"2.1 2.3 2.2\n2.3 2.5 2.4\n2.0 2.3 2.1"}
      />
      <div className="row g-2">
        <NumberField className="col-6" label="Coupons’ row" {...field("row")} error={errors.reference_cell} />
        <NumberField className="col-6" label="Coupons’ column" {...field("column")} />
      </div>
      {!initials && <p className="caution mb-0">Choose your initials first (top right).</p>}
      <Trouble error={errors.reference_cell ? null : elsewhere} />
      <Button type="submit" disabled={!text.trim() || bad || !initials || add.isPending}>
        Save the map
      </Button>
    </Form>
  );
}

function Marks({ view }: { view: View }) {
  const say = useSay();
  const [x, setX] = useState<number | null>(null);
  const [y, setY] = useState<number | null>(null);
  const [note, setNote] = useState("");
  const back = useSend((id: string) =>
    body(POST("/api/defects/{defect_id}/restore", { params: { path: { defect_id: id } } })),
  );
  const retire = useSend(
    (id: string) => body(POST("/api/defects/{defect_id}/retire", { params: { path: { defect_id: id } } })),
    (_, id) => say("The mark is removed.", () => back.mutate(id)),
  );
  const add = useSend(
    (_: null, headers) =>
      body(
        POST("/api/printers/{printer_id}/defects", {
          params: { path: { printer_id: view.printer_id } },
          body: { x_mm: x ?? 0, y_mm: y ?? 0, width_mm: 2, height_mm: 2, note },
          headers,
        }),
      ),
    () => {
      say("The mark is on the map.");
      setX(null);
      setY(null);
      setNote("");
    },
  );
  const errors = add.error?.fields ?? {};
  return (
    <>
      <h2>Known marks</h2>
      <ul className="marks">
        {view.defects.map((mark, index) => (
          <li key={mark.id}>
            <b className="letter">{index + 1}</b>
            <span className="flex-grow-1">
              {mark.note}{" "}
              <span className="text-secondary num">
                at {size(mark.x_mm)}, {millimetres(mark.y_mm)}
              </span>
            </span>
            <Button
              size="sm"
              variant="quiet"
              className="text-nowrap"
              onClick={() => retire.mutate(mark.id)}
              aria-label={`Remove mark ${index + 1}`}
            >
              Remove
            </Button>
          </li>
        ))}
        {!view.defects.length && (
          <li className="text-secondary">
            None. A mark at the same place in every print belongs here, not into the parameters.
          </li>
        )}
      </ul>
      <Form
        noValidate
        className="d-grid gap-2"
        aria-label="Add a mark"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(null);
        }}
      >
        <div className="row g-2">
          <NumberField
            className="col-6"
            label="X from the corner"
            unit="mm"
            value={x}
            onChange={setX}
            error={errors.x_mm}
          />
          <NumberField
            className="col-6"
            label="Y from the corner"
            unit="mm"
            value={y}
            onChange={setY}
            error={errors.y_mm}
          />
        </div>
        <TextField
          label="What it is"
          value={note}
          onChange={setNote}
          error={errors.note && "Say what it is in a few words."}
        />
        <Button type="submit" variant="outline-primary" disabled={x === null || y === null || add.isPending}>
          Add the mark
        </Button>
      </Form>
    </>
  );
}
