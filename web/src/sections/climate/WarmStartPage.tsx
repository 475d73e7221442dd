import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { type ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { type Entry, useEntry } from "../../shared/fields/useEntry";
import { duration, moment, THIN, temperature } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { ClimateTabs } from "./ClimateTabs";
import { HeaterForm } from "./HeaterForm";
import { setsOf, type Standing, useStanding } from "../../shared/useStanding";
import { WarmPlan } from "./WarmPlan";
import "./climate.scss";
import { useGet } from "../../shared/api/useGet";
import { type Filled, isFilled } from "../../shared/filled";

type Fit = Schemas["ChamberFit"];
type Heater = Schemas["Heater"];
type Draft = {
  printers: string[];
  set_code: string;
  heater_id: string;
  ambient_c: number | null;
  target_c: number | null;
  floor_c: number | null;
  ceiling_c: number | null;
  lid_openings: number | null;
  tariff_per_kwh: number | null;
  with_bath: boolean;
  bottle_id: string;
  resin_ml: number | null;
  resin_c: number | null;
  bath_ml: number | null;
  bath_c: number | null;
  bottle_c: number | null;
};
const KEY = "setback.warm-start.usual";

/** One plan for a cold morning: bottle, heater, shake, pour, start, switch off. */
export default function WarmStartPage() {
  const fits = useGet("/api/chamber-fits", {}, { select: (answer) => answer.items });
  const heaters = useGet("/api/heaters", {}, { select: (answer) => answer.items });
  const materials = useStanding();
  return (
    <>
      <PageHead title="Warm start" />
      <ClimateTabs />
      <Loaded query={fits}>
        {(known) => (
          <Loaded query={heaters}>
            {(held) =>
              isFilled(known) && held.length ? (
                <Loaded query={materials}>{(all) => <Planner fits={known} heaters={held} materials={all} />}</Loaded>
              ) : (
                <EmptyState purpose="A warm start is planned from one logged heating of a chamber: how fast it warms and how much it loses. Mark a heating on the log of a probe in a chamber.">
                  <Link className="btn btn-primary" to="/climate">
                    To the log
                  </Link>
                </EmptyState>
              )
            }
          </Loaded>
        )}
      </Loaded>
      <Past />
    </>
  );
}

function Planner({ fits, heaters, materials }: { fits: Filled<Fit>; heaters: Heater[]; materials: Standing[] }) {
  const navigate = useNavigate();
  const say = useSay();
  const [search] = useSearchParams();
  const [adding, setAdding] = useState(false);
  const first = fits.find((one) => one.printer_id === search.get("printer")) ?? fits[0];
  const sets = setsOf(materials);
  const ofFirst = setsOf(materials, first.printer_id);
  const named = sets.find((one) => one.code === search.get("set")) ?? (ofFirst.length === 1 ? ofFirst[0] : undefined);
  const entry = useEntry<Draft>(() => ({
    printers: [first.printer_id],
    set_code: named?.code ?? "",
    heater_id: first.heater_id,
    ambient_c: null,
    target_c:
      named?.temp_low_c != null && named.temp_high_c != null
        ? Math.round((named.temp_low_c + named.temp_high_c) / 2)
        : 25,
    floor_c: named?.temp_low_c ?? 22,
    ceiling_c: 30,
    lid_openings: 1,
    tariff_per_kwh: null,
    with_bath: true,
    bottle_id: "",
    resin_ml: 500,
    resin_c: null,
    bath_ml: 2000,
    bath_c: 40,
    bottle_c: 25,
    ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Draft>),
  }));
  const { values: draft, set } = entry;
  const room = useGet("/api/room");
  const now = room.data?.room?.temp_c ?? null;
  const request: Schemas["WarmStartAsked"] = {
    printers: draft.printers.map((printer_id) => ({
      printer_id,
      set_code: sets.find((one) => one.code === draft.set_code && one.printer_id === printer_id)?.code ?? null,
    })),
    heater_id: draft.heater_id,
    ambient_c: draft.ambient_c,
    target_c: draft.target_c ?? 25,
    floor_c: draft.floor_c ?? 22,
    ceiling_c: draft.ceiling_c ?? 30,
    lid_openings: Math.round(draft.lid_openings ?? 1),
    tariff_per_kwh: draft.tariff_per_kwh,
    bath: draft.with_bath
      ? {
          bottle_id: draft.bottle_id || null,
          resin_ml: draft.resin_ml ?? 500,
          resin_c: draft.resin_c ?? draft.ambient_c ?? now ?? 15,
          bath_ml: draft.bath_ml ?? 2000,
          bath_c: draft.bath_c ?? 40,
          target_c: draft.bottle_c ?? 25,
        }
      : null,
  };
  const quote = useQuery<Schemas["WarmStartQuote"], ApiError>({
    queryKey: ["warm-start-quote", request],
    queryFn: () => body(POST("/api/warm-starts/quote", { body: request })),
    enabled: Boolean(draft.heater_id) && draft.printers.length > 0,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const begin = useSend(
    (_: null, headers) => body(POST("/api/warm-starts", { body: request, headers })),
    (made) => {
      localStorage.setItem(
        KEY,
        JSON.stringify({
          tariff_per_kwh: draft.tariff_per_kwh,
          bath_ml: draft.bath_ml,
          resin_ml: draft.resin_ml,
          bath_c: draft.bath_c,
        } satisfies Partial<Draft>),
      );
      say(`${made.code} runs: its steps are timers now.`);
      void navigate(`/climate/warm-start/${made.code}`);
    },
  );
  const { field, errors } = entry.checked(quote.error);
  const error = (name: string) =>
    Object.entries(errors).find(([place]) => place === name || place.endsWith(`.${name}`))?.[1];
  const elsewhere =
    quote.error && !["target_c", "bath_c", "ambient_c"].some((name) => error(name)) ? quote.error : null;
  const toggle = (id: string) =>
    set({
      printers: draft.printers.includes(id) ? draft.printers.filter((one) => one !== id) : [...draft.printers, id],
    });
  return (
    <div className="two-columns warm-start">
      <section className="panel" aria-label="What is wanted">
        <h2>Chamber</h2>
        <fieldset className="mb-2">
          <legend className="form-label">Printers, in the order the heater goes round</legend>
          {fits.map((one) => (
            <Form.Check
              key={one.printer_id}
              id={`warm-${one.printer_id}`}
              inline
              label={
                draft.printers.includes(one.printer_id) && draft.printers.length > 1
                  ? `${draft.printers.indexOf(one.printer_id) + 1}. ${one.printer}`
                  : one.printer
              }
              checked={draft.printers.includes(one.printer_id)}
              onChange={() => toggle(one.printer_id)}
            />
          ))}
        </fieldset>
        <div className="two">
          <Choice
            label="Heater"
            {...field("heater_id")}
            options={heaters.map((one) => [
              one.id,
              `${one.name}, ${one.watts}${THIN}W${one.cut_out ? "" : ", no cut-out"}`,
            ])}
            error={error("has_cut_out")}
          />
          <Choice
            label="Printed with"
            {...field("set_code")}
            none="base layers of about 10 min"
            options={sets
              .filter((one) => draft.printers.includes(one.printer_id))
              .map((one) => [one.code, `${one.code}: ${one.material} on ${one.printer}`])}
          />
          <NumberField
            label="Room"
            unit="°C"
            {...field("ambient_c")}
            error={error("ambient_c")}
            hint={now === null ? "No recent room reading" : `${temperature(now, 1)} by its probe`}
          />
          <NumberField label="Chamber at the start" unit="°C" {...field("target_c")} error={error("target_c")} />
          <NumberField label="Not colder than" unit="°C" {...field("floor_c")} hint="through the base layers" />
          <NumberField label="Never warmer than" unit="°C" {...field("ceiling_c")} />
          <NumberField label="Lid openings" {...field("lid_openings")} hint="the pour is one" />
          <NumberField label="Price of a kWh" {...field("tariff_per_kwh")} />
        </div>
        <Button variant="link" className="p-0 mt-2" onClick={() => setAdding(true)}>
          Add a heater…
        </Button>
        <BottleBath entry={entry} error={error} />
      </section>
      <section className="panel" aria-label="The plan" aria-live="polite">
        {elsewhere ? (
          <Trouble error={elsewhere} />
        ) : !quote.error && quote.data ? (
          <WarmPlan plan={quote.data.plan} />
        ) : (
          <p className="text-secondary mb-0">Put right what is marked, and the plan follows.</p>
        )}
        <Trouble error={begin.error} className="mt-2" />
        {!quote.error && quote.data?.plan.possible && (
          <Button size="lg" className="w-100 mt-3" disabled={begin.isPending} onClick={() => begin.mutate(null)}>
            Begin now: ready in {duration(quote.data.plan.takes_s)}
          </Button>
        )}
      </section>
      {adding && <HeaterForm onClose={() => setAdding(false)} />}
    </div>
  );
}

type BathProps = { entry: Entry<Draft>; error: (name: string) => string | undefined };

/** The bottle's warm bath, when there is one. */
function BottleBath({ entry, error }: BathProps) {
  const { values: draft, set } = entry;
  const { field } = entry.checked();
  const bottles = useGet(
    "/api/bottles",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  return (
    <>
      <h2 className="mt-3">Bottle</h2>
      <Form.Check
        id="bathed"
        className="mb-2"
        label="Warm the bottle in a water bath"
        checked={draft.with_bath}
        onChange={(event) => set({ with_bath: event.target.checked })}
      />
      {draft.with_bath && (
        <div className="two">
          <Choice
            label="Bottle"
            {...field("bottle_id")}
            none="any, 1.1 g/ml"
            options={(bottles.data ?? []).map((one) => [
              one.id,
              `${one.code} ${one.material}, ${one.left_ml.toFixed(0)}${THIN}ml left`,
            ])}
            onChange={(bottle_id) => {
              const left_ml = bottles.data?.find((one) => one.id === bottle_id)?.left_ml;
              set({ bottle_id, resin_ml: left_ml ?? draft.resin_ml });
            }}
          />
          <NumberField label="Resin in it" unit="ml" {...field("resin_ml")} error={error("resin_ml")} />
          <NumberField label="Resin now" unit="°C" {...field("resin_c")} hint="empty: as the room" />
          <NumberField label="Warm it to" unit="°C" {...field("bottle_c")} />
          <NumberField label="Water" unit="ml" {...field("bath_ml")} error={error("bath_ml")} />
          <NumberField
            label="Water is at"
            unit="°C"
            {...field("bath_c")}
            error={error("bath_c")}
            hint={`warm tap water, ${temperature(45)} at most`}
          />
        </div>
      )}
    </>
  );
}

function Past() {
  const past = useGet("/api/warm-starts", {}, { select: (answer) => answer.items });
  if (!past.data?.length) return null;
  return (
    <section className="panel mt-3" aria-label="Warm starts before">
      <h2>Before</h2>
      <ul className="plain-list">
        {past.data.map((one) => (
          <li key={one.id}>
            <Link to={`/climate/warm-start/${one.code}`}>{one.code}</Link>:{" "}
            {one.asked.chambers.map((chamber) => chamber.printer).join(", ")} to {temperature(one.asked.target_c)} from{" "}
            {temperature(one.asked.ambient_c, 0)}, {moment(one.at)}
            {one.initials && `, ${one.initials}`}
            {!one.begun_at && ", stopped"}
          </li>
        ))}
      </ul>
    </section>
  );
}
