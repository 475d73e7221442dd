import { useState } from "react";
import { body, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";

type Settings = Schemas["PlanSettings"];
type Working = Schemas["WorkingDay"] | null;
type Minutes = keyof Schemas["Handling"];
const DAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** When the technician works, how many things places take, and minutes of a person. */
export function HoursDialog({ onClose }: { onClose: () => void }) {
  const query = useGet("/api/plan/settings");
  return query.data ? <HoursForm stored={query.data} onClose={onClose} /> : null;
}

type Day = { begins: string; ends: string; breaks: string };
const asDay = (day: Working): Day => ({
  begins: day?.hours.begins ?? "",
  ends: day?.hours.ends ?? "",
  breaks: day?.breaks?.map((one) => `${one.begins}–${one.ends}`).join(", ") ?? "",
});

function HoursForm({ stored, onClose }: { stored: Settings; onClose: () => void }) {
  const [days, setDays] = useState<Day[]>((stored.hours?.week ?? []).map(asDay));
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const [zone, setZone] = useState((stored.version && stored.hours?.time_zone) || here);
  const [off, setOff] = useState((stored.hours?.days_off ?? []).join(", "));
  const [rest, setRest] = useState(stored);
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/plan/settings", {
          body: {
            ...rest,
            hours: {
              time_zone: zone,
              days_off: off.split(/[\s,;]+/).filter(Boolean),
              week: days.map((day) =>
                day.begins || day.ends
                  ? { hours: { begins: day.begins, ends: day.ends }, breaks: breaksOf(day.breaks) }
                  : null,
              ),
            },
          },
        }),
      ),
    onClose,
  );
  const errors = save.error?.fields ?? {};
  const ofDay = (at: number) => Object.entries(errors).find(([field]) => field.startsWith(`hours.week.${at}`))?.[1];
  const minutes = (name: Minutes, label: string) => (
    <NumberField
      className="col-6"
      label={label}
      unit="min"
      value={rest.handling?.[name] ?? null}
      onChange={(value) =>
        setRest({ ...rest, handling: { ...rest.handling, [name]: value ?? 0 } as Settings["handling"] })
      }
      error={errors[`handling.${name}`]}
    />
  );
  return (
    <FormDialog
      title="Working hours and places"
      action="Save"
      large
      saving={save.isPending}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <div className="d-grid gap-2">
        {DAYS.map((name, at) => (
          <fieldset key={name} className="row g-2 align-items-end">
            <legend className="col-12 col-sm-3 fs-6 mb-0">{name}</legend>
            {(["begins", "ends", "breaks"] as const).map((part) => (
              <TextField
                key={part}
                className={part === "breaks" ? "col-6 col-sm-5" : "col-3 col-sm-2"}
                label={{ begins: "From", ends: "To", breaks: "Breaks" }[part]}
                value={days[at]?.[part] ?? ""}
                onChange={(text) => setDays(days.map((day, other) => (other === at ? { ...day, [part]: text } : day)))}
                placeholder={part === "breaks" ? "12:00–12:30" : "none"}
                error={part === "begins" && ofDay(at)}
              />
            ))}
          </fieldset>
        ))}
      </div>
      <TextField
        label="Days off"
        value={off}
        onChange={setOff}
        error={errors["hours.days_off.0"]}
        hint="as 2026-12-24, with commas"
      />
      <TextField
        label="Time zone"
        value={zone}
        onChange={setZone}
        error={errors["hours.time_zone"]}
        hint={`here it is ${here}`}
      />
      <div className="row g-2">
        {minutes("start_min", "Starting a print")}
        {minutes("wash_min", "Handling a wash")}
        {minutes("coupon_min", "Reading a coupon")}
        {minutes("specimen_min", "Reading a specimen")}
        {minutes("change_min", "Changing a vat")}
        {minutes("cure_min", "Handling a cure")}
        <NumberField
          className="col-6"
          label="Places under a lamp"
          value={rest.lamp_places ?? null}
          onChange={(value) => setRest({ ...rest, lamp_places: value ?? 1 })}
          error={errors.lamp_places}
        />
        <NumberField
          className="col-6"
          label="Places to dry"
          value={rest.dry_places ?? null}
          onChange={(value) => setRest({ ...rest, dry_places: value ?? 1 })}
          error={errors.dry_places}
        />
      </div>
    </FormDialog>
  );
}

/** "12:00–12:30, 15:00–15:15" */
const breaksOf = (text: string) =>
  text
    .split(/[,;]/)
    .map((one) => one.trim())
    .filter(Boolean)
    .map((one) => {
      const [begins = "", ends = ""] = one.split(/\s*[–-]\s*/);
      return { begins, ends };
    });
