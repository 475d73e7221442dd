import Button from "react-bootstrap/Button";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { DraftNote } from "../../shared/fields/DraftNote";
import { NumberField } from "../../shared/fields/NumberField";
import { type PartSettings, type SettingField, SettingsFields } from "../../shared/fields/SettingsFields";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { SOURCES } from "./sources";
import { useOpened } from "../../shared/fields/useOpened";

type Page = Schemas["ProvisionalPage"];
type Source = Schemas["ProvisionalInput"]["source"];
const ALL = { params: { query: { retired: false, limit: 200, after: "" } } };

/** Settings in use, entered by hand or changed. */
export default function InUseFormPage() {
  const { code } = useParams();
  const stored = useGet("/api/provisional-sets/{code}", code ? { params: { path: { code } } } : null);
  if (!code) return <InUseForm stored={null} />;
  return (
    <Loaded page query={stored}>
      {(page) => <InUseForm key={page.code} stored={page} />}
    </Loaded>
  );
}

function InUseForm({ stored }: { stored: Page | null }) {
  const navigate = useNavigate();
  const say = useSay();
  const [search] = useSearchParams();
  const entry = useEntry(
    {
      material_id: stored?.material_id ?? search.get("material") ?? "",
      printer_id: stored?.printer_id ?? search.get("printer") ?? "",
      layer_height_um: (stored?.layer_height_um ?? Number(search.get("height") ?? 50)) as number | null,
      exposure_s: (stored?.exposure_s ?? null) as number | null,
      settings: statedOf(stored),
      tip_mm: (stored?.tip_mm ?? null) as number | null,
      source: (stored?.source ?? "own habit") as Source,
      source_note: stored?.source_note ?? "",
      in_use_since: stored?.in_use_since ?? "",
      finish_route_id: stored?.finish_route_id ?? "",
      note: stored?.note ?? "",
    },
    stored ? undefined : "in-use.new",
  );
  const { values } = entry;
  const materials = useGet("/api/climate-materials", {}, { select: (answer) => answer.items });
  const printers = useGet("/api/printers", ALL, { select: (answer) => answer.items });
  const routes = useGet("/api/finish-routes", ALL, { select: (answer) => answer.items });
  const printer = printers.data?.find((one) => one.id === values.printer_id);
  const fields = useGet(
    "/api/calibration-start",
    values.material_id && values.printer_id
      ? { params: { query: { material_id: values.material_id, printer_id: values.printer_id, layer_height_um: 50 } } }
      : null,
    { staleTime: Infinity, placeholderData: (before) => before, select: (answer) => answer.setting_fields },
  ).data;
  const version = useOpened(stored?.version ?? null);
  const save = useSend(
    (_: null, headers) => {
      const { settings, in_use_since, ...rest } = values;
      const stated = Object.fromEntries(Object.entries(settings).filter(([, value]) => value !== null));
      const request = {
        ...rest,
        layer_height_um: rest.layer_height_um ?? 0,
        exposure_s: rest.exposure_s ?? 0,
        settings: stated as Schemas["ProvisionalInput"]["settings"],
        in_use_since: in_use_since || null,
        finish_route_id: rest.finish_route_id || null,
        version,
      };
      return body(
        stored
          ? PUT("/api/provisional-sets/{code}", { params: { path: { code: stored.code } }, body: request })
          : POST("/api/provisional-sets", { body: request, headers }),
      );
    },
    (page) => {
      entry.forget();
      say(`${page.material} on ${page.printer} is kept as ${page.code}: in use, not shown.`);
      void navigate(`/shelf/in-use/${page.code}`);
    },
  );
  const { field, errors, elsewhere } = entry.checked(save.error);
  return (
    <>
      <PageHead
        title={stored ? `Change ${stored.code}` : "Settings in use"}
        sub="What you print with today; nothing here shows yet that it is right"
      />
      <form
        className="panel d-grid gap-3"
        style={{ maxWidth: "52rem" }}
        aria-label="Settings in use"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(null);
        }}
      >
        <DraftNote entry={entry} />
        <div className="row g-3">
          <div className="col-sm-4">
            <Choice
              label="Material"
              {...field("material_id")}
              options={(materials.data ?? []).map((one) => [one.id, one.name] as const)}
            />
          </div>
          <div className="col-sm-4">
            <Choice
              label="Printer"
              {...field("printer_id")}
              options={(printers.data ?? []).map((one) => [one.id, one.name] as const)}
            />
          </div>
          <div className="col-sm-4">
            <NumberField label="Layer height" unit="µm" {...field("layer_height_um")} />
          </div>
          <div className="col-sm-4">
            <NumberField
              label="Exposure"
              unit="s"
              {...field("exposure_s")}
              hint={printer && `in steps of ${printer.exposure_step_s} s`}
            />
          </div>
          <div className="col-sm-4">
            <NumberField label="Thinnest support tip that holds" unit="mm" {...field("tip_mm")} hint="if you know" />
          </div>
          <div className="col-sm-4">
            <Choice
              label="Finish route"
              {...field("finish_route_id")}
              options={(routes.data ?? []).map((one) => [one.id, one.name] as const)}
              none="not noted"
            />
          </div>
        </div>
        <fieldset>
          <legend className="fs-6 fw-bold">Where they come from</legend>
          <div className="row g-3">
            <div className="col-sm-4">
              <Choice label="From" {...field("source")} options={SOURCES} />
            </div>
            <div className="col-sm-4">
              <TextField label="Which one" {...field("source_note")} placeholder="sheet of 2024, TO’s list" />
            </div>
            <div className="col-sm-4">
              <TextField label="In use since" type="date" {...field("in_use_since")} hint="empty: not known" />
            </div>
          </div>
        </fieldset>
        <details open={Object.values(values.settings).some((value) => value !== null)}>
          <summary className="form-label">The other settings, as far as you know them</summary>
          <p className="text-secondary small mb-2">What stays empty is kept as the usual, and marked so.</p>
          <SettingsFields
            settings={values.settings}
            fields={fields ?? FALLBACK}
            onChange={(settings) => entry.set({ settings })}
            errors={errors}
          />
        </details>
        <TextField label="Note" {...field("note")} lines={2} />
        <Trouble error={elsewhere} />
        <div>
          <Button type="submit" disabled={save.isPending || !values.material_id || !values.printer_id}>
            {stored ? "Save a new version" : "Save"}
          </Button>
        </div>
      </form>
    </>
  );
}

const NOTHING: PartSettings = {
  light_power_pct: null,
  base_exposure_s: null,
  base_layers: null,
  transition_layers: null,
  rest_before_s: null,
  rest_after_lift_s: null,
  rest_after_retract_s: null,
  lift_mm: null,
  lift_mm_min: null,
  retract_mm_min: null,
  anti_aliasing: null,
};
/** Until the pair is known, the two that everybody knows. */
const FALLBACK: SettingField[] = [
  { key: "base_exposure_s", label: "Base exposure", unit: "s", usual: 24, hint: null },
  { key: "base_layers", label: "Base layers", unit: "", usual: 4, hint: null },
];

/** What was stated; what was not stays open. */
function statedOf(page: Page | null): PartSettings {
  const stated = page ? Object.entries(page.settings).filter(([name]) => page.stated.includes(name)) : [];
  return { ...NOTHING, ...Object.fromEntries(stated) };
}
