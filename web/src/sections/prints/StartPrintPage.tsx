import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { DraftNote } from "../../shared/fields/DraftNote";
import { NumberField } from "../../shared/fields/NumberField";
import { type PartSettings, type SettingField, SettingsFields } from "../../shared/fields/SettingsFields";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { isAtStart, NO_START, type Start, startBody, StartTemperature } from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import { setsOf, useStanding } from "../../shared/useStanding";
import { CountedParts, NO_PART, partsBody } from "./CountedParts";
import { asTypedMoment, momentOf } from "./moments";
import { PlateTap } from "./PlateTap";
import { placedOf, type Report, reportBody, ReportFields } from "./ReportFields";
import "./log.scss";

const KEY = "setback.last-print";
type Last = { printer?: string; setCode?: string; place?: Start["place"]; part?: string; printed?: number | null };
type Noted = Report & {
  printer_id: string;
  /** Null until somebody chose: the only set of a printer is the one it is printed with. */
  set_code: string | null;
  trial: {
    material_id: string;
    layer_height_um: number | null;
    exposure_s: number | null;
    rest_before_s: number | null;
    /** All others, as they were handed over or typed; without any, as usual on this printer. */
    settings?: PartSettings | null;
  };
  settings_note: string;
  tip_mm: number | null;
  bottle_id: string;
  started_at: string;
  start: Start;
};
const ALL = { params: { query: { retired: false, limit: 200, after: "" } } };

/** A print starts, or is entered when it came out already: the last printer, set and part are remembered. */
export default function StartPrintPage() {
  const navigate = useNavigate();
  const say = useSay();
  const [search, setSearch] = useSearchParams();
  const cameOut = search.has("done");
  const [last] = useState<Last>(() => JSON.parse(localStorage.getItem(KEY) ?? "{}") as Last);
  const entry = useEntry<Noted>(
    {
      printer_id: last.printer ?? "",
      set_code: last.setCode ?? null,
      trial: { material_id: "", layer_height_um: 50, exposure_s: null, rest_before_s: 1 },
      settings_note: "",
      tip_mm: null,
      bottle_id: "",
      started_at: "",
      start: { ...NO_START, place: last.place ?? "room" },
      parts: [{ ...NO_PART, name: last.part ?? "", printed: last.printed ?? 1 }],
      symptoms: [],
      seen: "",
      finished_at: "",
      volume_ml: null,
      minutes: null,
      temp_end_c: null,
      dry_min: null,
      cure_min: null,
      pieces_lost: null,
    },
    "log.start",
  );
  const { values } = entry;
  const from = search.get("from");
  const number = (name: string) => (search.has(name) ? Number(search.get(name)) : undefined);
  const handedOver = useGet(
    "/api/start-from/{code}",
    from ? { params: { path: { code: from }, query: { exposure_s: number("exposure"), arm: number("arm") } } } : null,
    { staleTime: Infinity },
  );
  useEffect(() => {
    const given = handedOver.data;
    if (!given) return;
    entry.suggest({
      printer_id: given.printer_id,
      set_code: given.set_code ?? "",
      ...(given.trial && { trial: { ...given.trial, rest_before_s: given.trial.settings?.rest_before_s ?? 1 } }),
      bottle_id: given.bottle_id ?? "",
      ...(given.part !== null && { parts: [{ ...NO_PART, name: given.part }] }),
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is handed over is taken once; what a person chose stays
  }, [handedOver.data]);
  const printers = useGet("/api/printers", ALL, { select: (answer) => answer.items.filter((one) => !one.simulated) });
  const printer = printers.data?.find((one) => one.id === values.printer_id) ?? printers.data?.[0];
  const sets = setsOf(useStanding().data ?? [], printer?.id ?? "");
  const set =
    sets.find((one) => one.code === values.set_code) ??
    (values.set_code === null && sets.length === 1 ? sets[0] : undefined);
  const material = set?.material_id ?? values.trial.material_id;
  const materials = useGet("/api/climate-materials", {}, { select: (answer) => answer.items });
  const bottles = useGet(
    "/api/bottles",
    material ? { params: { query: { ...ALL.params.query, material_id: material } } } : null,
    { select: (answer) => answer.items },
  );
  const bottle = bottles.data?.find((one) => one.id === values.bottle_id);
  // What is usual on this printer stands for every setting that nobody typed.
  const usual = useGet(
    "/api/calibration-start",
    !set && printer && values.trial.material_id
      ? {
          params: {
            query: {
              material_id: values.trial.material_id,
              printer_id: printer.id,
              layer_height_um: values.trial.layer_height_um ?? 50,
            },
          },
        }
      : null,
    { staleTime: Infinity, placeholderData: (before) => before },
  ).data;
  const [placing, setPlacing] = useState<number | null>(null);

  const common = () => ({
    printer_id: printer?.id ?? "",
    set_code: set?.code ?? null,
    trial: set || !values.trial.material_id ? null : trialBody(values.trial, usual?.settings),
    settings_note: set ? "" : values.settings_note,
    tip_mm: values.tip_mm,
    bottle_id: bottle?.id ?? null,
    lift_suppressed: false,
    started_at: momentOf(values.started_at),
    started_from: from,
    ...startBody(values.start),
  });
  const done = (made: Schemas["LogView"]) => {
    const remembered: Last = {
      printer: printer?.id,
      setCode: set?.code,
      place: values.start.place,
      part: values.parts[0]?.name,
      printed: values.parts[0]?.printed,
    };
    localStorage.setItem(KEY, JSON.stringify(remembered));
    entry.forget();
    say(cameOut ? `${made.code} is logged.` : `${made.code} runs. Say how it came out when it has.`);
    // What is printed for a calibration is looked at there.
    void navigate(from?.startsWith("C-") ? `/calibrate/${from}` : "/log");
  };
  const send = useSend(
    (_: null, headers) =>
      cameOut
        ? body(POST("/api/prints", { body: { ...common(), ...reportBody(values) }, headers }))
        : body(
            POST("/api/prints/start", {
              body: {
                ...common(),
                seen: values.seen,
                parts: partsBody(values.parts).map(({ name, place, printed, x_mm, y_mm }) => ({
                  name,
                  place,
                  printed,
                  x_mm,
                  y_mm,
                })),
                volume_ml: values.volume_ml ?? 0,
                minutes: values.minutes,
              },
              headers,
            }),
          ),
    done,
    {
      waits: {
        words: () => (cameOut ? "A print that came out" : "A print that begins"),
        onKept() {
          entry.forget();
          say("The print waits in this device.");
          void navigate("/at-hand");
        },
      },
    },
  );
  const { field, errors, elsewhere } = entry.checked(send.error);
  const trial = (changes: Partial<Noted["trial"]>) => entry.set({ trial: { ...values.trial, ...changes } });
  return (
    <>
      <PageHead title={cameOut ? "Log a print" : "Start a print"} sub={handedOver.data?.words} />
      <Form
        noValidate
        className="panel log-form"
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate(null);
        }}
      >
        <DraftNote entry={entry} />
        {handedOver.error && <Trouble error={handedOver.error} className="wide" />}
        <div className="btn-group wide" role="group" aria-label="When">
          {[false, true].map((out) => (
            <Button
              key={String(out)}
              variant={out === cameOut ? "primary" : "quiet"}
              aria-pressed={out === cameOut}
              onClick={() =>
                setSearch(
                  (before) => {
                    if (out) before.set("done", "");
                    else before.delete("done");
                    return before;
                  },
                  { replace: true },
                )
              }
            >
              {out ? "It came out already" : "It starts now"}
            </Button>
          ))}
        </div>
        <Choice
          label="Printer"
          {...field("printer_id")}
          value={printer?.id ?? ""}
          options={(printers.data ?? []).map((one) => [one.id, one.name])}
        />
        <Choice
          label="Issued set"
          {...field("set_code")}
          value={set?.code ?? ""}
          none="none: trial settings"
          options={sets.map((one) => [one.code, `${one.code}: ${one.material}, ${one.layer_height_um} µm`])}
        />
        {!set && (
          <>
            <Choice
              label="Material"
              value={values.trial.material_id}
              none="not noted"
              onChange={(material_id) => trial({ material_id })}
              options={(materials.data ?? []).map((one) => [one.id, one.name])}
              error={errors["trial.material_id"]}
            />
            {!values.trial.material_id && (
              <TextField label="Trial settings" {...field("settings_note")} placeholder="in words" />
            )}
            {values.trial.material_id && (
              <>
                <NumberField
                  label="Exposure"
                  unit="s"
                  value={values.trial.exposure_s}
                  onChange={(exposure_s) => trial({ exposure_s })}
                  error={errors["trial.exposure_s"]}
                />
                <NumberField
                  label="Layer height"
                  unit="µm"
                  value={values.trial.layer_height_um}
                  onChange={(layer_height_um) => trial({ layer_height_um })}
                  error={errors["trial.layer_height_um"]}
                />
                <NumberField
                  label="Rest before exposure"
                  unit="s"
                  value={values.trial.rest_before_s}
                  onChange={(rest_before_s) => trial({ rest_before_s })}
                  error={errors["trial.settings.rest_before_s"]}
                />
                <OtherSettings
                  settings={values.trial.settings ?? usual?.settings}
                  isUsual={!values.trial.settings}
                  fields={usual?.setting_fields ?? []}
                  onChange={(settings) => trial({ settings })}
                  errors={errors}
                />
              </>
            )}
          </>
        )}
        {cameOut && <ReportFields report={values} onChange={entry.set} errors={errors} plate={printer} />}
        <TextField
          label="It started"
          type="datetime-local"
          {...field("started_at")}
          hint={cameOut ? "empty: not noted" : "empty: now"}
        />
        {cameOut && (
          <EveningBefore
            onChoose={() => entry.set({ started_at: lastEvening(), finished_at: asTypedMoment(new Date()) })}
          />
        )}
        <StartTemperature
          key={printer?.id}
          printer={printer?.id ?? null}
          setCode={set?.code}
          {...field("start")}
          onSuggest={(start) => entry.suggest({ start })}
          errors={errors}
          at={cameOut ? (momentOf(values.started_at) ?? "unknown") : momentOf(values.started_at)}
        />
        {material && (
          <Choice
            label="Resin out of"
            {...field("bottle_id")}
            value={bottle?.id ?? ""}
            none="no bottle: nothing goes down"
            options={(bottles.data ?? []).map((one) => [one.id, `${one.code}, lot ${one.lot}`])}
          />
        )}
        <NumberField label="Support tip" unit="mm" {...field("tip_mm")} hint="empty: not noted" />
        {!cameOut && (
          <>
            <CountedParts
              parts={values.parts}
              onChange={(parts) => entry.set({ parts })}
              errors={errors}
              counts={false}
            />
            <NumberField label="Resin for it" unit="ml" {...field("volume_ml")} hint="as the slicing program says" />
            <NumberField label="It takes" unit="min" {...field("minutes")} hint="as the slicing program says" />
          </>
        )}
        {printer && (
          <details className="wide">
            <summary>Where the parts stand on the plate</summary>
            <p className="small text-secondary mb-1">
              Choose a part, then tap the plate. Failures by place tell a spot of the screen or film from a wrong
              exposure.
            </p>
            <div className="btn-group flex-wrap mb-2" role="group" aria-label="Part to place">
              {values.parts.map((one, at) => (
                <Button
                  key={at}
                  size="sm"
                  variant={placing === at ? "primary" : "quiet"}
                  aria-pressed={placing === at}
                  onClick={() => setPlacing(at)}
                >
                  {at + 1} {one.name}
                </Button>
              ))}
            </div>
            <PlateTap
              width_mm={printer.plate_x_mm}
              height_mm={printer.plate_y_mm}
              parts={placedOf(values.parts)}
              placing={placing ?? 0}
              onPlace={(part, x_mm, y_mm) => {
                entry.set({ parts: values.parts.map((one, at) => (at === part ? { ...one, x_mm, y_mm } : one)) });
                setPlacing((part + 1) % values.parts.length);
              }}
            />
          </details>
        )}
        <div className="wide">
          <Trouble error={isAtStart(errors) ? null : elsewhere} className="mb-2" />
          <Button type="submit" size="lg" disabled={send.isPending || !printer}>
            {cameOut ? "Log it" : "Start it"}
          </Button>
        </div>
      </Form>
    </>
  );
}

/** Every further setting of a trial, filled in with what is usual on this printer. */
function OtherSettings({
  settings,
  isUsual,
  fields,
  onChange,
  errors,
}: {
  settings: PartSettings | undefined;
  isUsual: boolean;
  fields: SettingField[];
  onChange: (settings: PartSettings) => void;
  errors: Record<string, string>;
}) {
  const own = Object.fromEntries(
    Object.entries(errors).map(([name, message]) => [name.replace(/^trial\./, ""), message]),
  );
  const isWrong = Object.keys(own).some((name) => name.startsWith("settings.") && name !== "settings.rest_before_s");
  return (
    <details className="wide" open={isWrong || undefined}>
      <summary>All other settings{isUsual && ": as usual on this printer"}</summary>
      {settings && (
        <SettingsFields
          settings={settings}
          fields={fields.filter((one) => one.key !== "rest_before_s")}
          onChange={onChange}
          errors={own}
        />
      )}
    </details>
  );
}

/** A night's print in one tap: begun last evening, out now. */
function EveningBefore({ onChoose }: { onChoose: () => void }) {
  return (
    <div className="align-self-end">
      <Button variant="quiet" onClick={onChoose}>
        Overnight: yesterday 20:00 to now
      </Button>
    </div>
  );
}

function lastEvening(): string {
  const at = new Date();
  at.setDate(at.getDate() - 1);
  at.setHours(20, 0, 0, 0);
  return asTypedMoment(at);
}

/** Trial settings as the server takes them: what nobody typed is as usual. */
function trialBody(trial: Noted["trial"], usual: PartSettings | undefined): Schemas["TrialSettings"] {
  return {
    material_id: trial.material_id,
    layer_height_um: trial.layer_height_um ?? NaN,
    exposure_s: trial.exposure_s ?? NaN,
    settings: { ...(trial.settings ?? usual), rest_before_s: trial.rest_before_s ?? 0 } as Schemas["Settings"],
  };
}
