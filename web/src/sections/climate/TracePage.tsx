import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { decimal, moment, plural, THIN, temperatures, temperature } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { TracePlot } from "../../shared/plot/TracePlot";
import { ClimateTabs } from "./ClimateTabs";
import { FitPanel } from "./FitPanel";
import { ProbeForm } from "./ProbeForm";
import { SampleForm } from "./SampleForm";
import { useStanding } from "../../shared/useStanding";
import "./climate.scss";
import { useGet } from "../../shared/api/useGet";
import { type Filled, isFilled } from "../../shared/filled";

type Probe = Schemas["ProbeView"];
type Trace = Schemas["TraceView"];
type Span = [string, string, number];
const USUAL_SPAN: Span = ["day", "Day", 1];
const SPANS: Span[] = [
  ["hours", "6 h", 6 / 24],
  USUAL_SPAN,
  ["week", "Week", 7],
  ["month", "Month", 30],
  ["year", "Year", 365],
];
const DAY_MS = 86_400_000;
const text = (ms: number) => new Date(ms).toISOString().slice(0, 19) + "Z";

/** Is it warm enough? A probe's log against a band, with what ran meanwhile. */
export default function TracePage() {
  const [adding, setAdding] = useState(false);
  const probes = useGet("/api/probes", {}, { select: (answer) => answer.items });
  usePageKeys([{ keys: "n", does: "add a probe", run: () => setAdding(true) }]);
  return (
    <>
      <PageHead title="Climate">
        {Boolean(probes.data?.length) && (
          <Link className="btn btn-quiet d-inline-flex align-items-center" to="/climate/import">
            Import a log…
          </Link>
        )}
        <Button onClick={() => setAdding(true)}>Add a probe</Button>
      </PageHead>
      <ClimateTabs />
      <Loaded query={probes}>
        {(held) =>
          isFilled(held) ? (
            <ProbeLog probes={held} />
          ) : (
            <EmptyState purpose="Cold resin looks exactly like a wrong exposure. A probe in the room, a chamber or a vat tells them apart; logs of other loggers can be imported.">
              <Button onClick={() => setAdding(true)}>Add a probe</Button>
            </EmptyState>
          )
        }
      </Loaded>
      <FromTables />
      {adding && <ProbeForm onClose={() => setAdding(false)} />}
    </>
  );
}

/** Temperatures that came out of tables from before are said wherever they are drawn. */
function FromTables() {
  const tables = useGet(
    "/api/earlier-tables",
    {},
    { select: (answer) => answer.items.filter((one) => one.kind === "temperatures") },
  );
  if (!tables.data?.length) return null;
  const named = tables.data.map((one) => `${one.code} (${plural(one.rows_taken ?? 0, "row")})`).join(", ");
  return <p className="small text-secondary mt-2">Imported from tables: {named}.</p>;
}

function ProbeLog({ probes }: { probes: Filled<Probe> }) {
  const [search, setSearch] = useSearchParams();
  const probe = probes.find((one) => one.id === search.get("probe")) ?? probes[0];
  const span = SPANS.find(([key]) => key === search.get("span")) ?? USUAL_SPAN;
  const end = search.get("to") ?? "";
  const setCode = search.get("set") ?? "";
  const [picked, setPicked] = useState<[number, number] | null>(null);
  const materials = useStanding();
  const sets = (materials.data ?? []).flatMap((one) =>
    one.sets
      .filter((held) => held.temp_low_c !== null && (!probe.printer_id || held.printer_id === probe.printer_id))
      .map(
        (held) =>
          [
            held.code,
            `${held.code}: ${one.name} on ${held.printer}, ${temperatures(held.temp_low_c ?? 0, held.temp_high_c ?? 0)}`,
          ] as [string, string],
      ),
  );
  const last = end || probe.last_at || text(Date.now());
  const from = text(Date.parse(last) - span[2] * DAY_MS);
  const go = (changes: Record<string, string>) => {
    setPicked(null);
    setSearch((held) => ({ ...Object.fromEntries(held), ...changes }), { replace: true });
  };
  const trace = useGet(
    "/api/probes/{probe_id}/trace",
    {
      params: {
        path: { probe_id: probe.id },
        query: { from_at: from, to_at: end || undefined, set_code: setCode || undefined },
      },
    },
    { placeholderData: keepPreviousData },
  );
  const move = (steps: number) => {
    const to = Date.parse(last) + steps * span[2] * DAY_MS;
    go({ to: probe.last_at && to >= Date.parse(probe.last_at) ? "" : text(to) });
  };
  usePageKeys([
    { keys: "←", hotkey: "left", does: "earlier", run: () => move(-1) },
    { keys: "→", hotkey: "right", does: "later", run: () => move(1) },
  ]);
  return (
    <>
      <div className="probes" role="group" aria-label="Probes">
        {probes.map((one) => (
          <button
            key={one.id}
            type="button"
            className="probe"
            aria-pressed={one.id === probe.id}
            onClick={() => go({ probe: one.id, to: "", set: "" })}
          >
            <b className="num">{one.now ? `${temperature(one.now.temp_c, 1)}` : "–"}</b>
            <span>{one.name}</span>
            <small>
              {one.now && !one.now.fresh
                ? `silent since ${moment(one.now.at)}`
                : one.place + (one.printer ? `, ${one.printer}` : "")}
            </small>
          </button>
        ))}
      </div>
      <section className="panel" aria-label={`Log of ${probe.name}`}>
        <div className="trace-tools no-print">
          <div className="btn-group" role="group" aria-label="How long">
            {SPANS.map(([key, name]) => (
              <Button
                key={key}
                variant={key === span[0] ? "primary" : "quiet"}
                aria-pressed={key === span[0]}
                onClick={() => go({ span: key })}
              >
                {name}
              </Button>
            ))}
          </div>
          <div className="btn-group" role="group" aria-label="When">
            <Button variant="quiet" onClick={() => move(-1)}>
              ‹ Earlier
            </Button>
            <Button variant="quiet" disabled={!end} onClick={() => move(1)}>
              Later ›
            </Button>
            <Button variant="quiet" disabled={!end} onClick={() => go({ to: "" })}>
              Newest
            </Button>
          </div>
          <Choice
            label="Band"
            value={setCode}
            none={`where most resins print well, ${temperatures(22, 28)}`}
            onChange={(set) => go({ set })}
            options={sets}
          />
        </div>
        <Loaded query={trace}>
          {(held) => (
            <div className="position-relative">
              {held.runs.length || held.marks.length ? (
                <TracePlot
                  trace={held}
                  picked={picked}
                  onPick={probe.place === "room" ? undefined : (a, b) => setPicked([a, b])}
                />
              ) : (
                <p className="text-secondary my-4">Nothing was logged in this time.</p>
              )}
              <Words trace={held} />
            </div>
          )}
        </Loaded>
        <ProbeTools probe={probe} />
      </section>
      {probe.place !== "room" && <FitPanel probe={probe} picked={picked} onPick={setPicked} />}
    </>
  );
}

function Words({ trace }: { trace: Trace }) {
  const codes = (all: string[]) =>
    all.length > 4 ? `${all.slice(0, 4).join(", ")} and ${all.length - 4} more` : all.join(", ");
  const how =
    trace.width_s === 0
      ? "Every sample is drawn."
      : `Drawn in steps of ${trace.width_s < 7200 ? `${trace.width_s / 60} min` : `${trace.width_s / 3600} h`}, each from its lowest to its highest sample.`;
  return (
    <div className="two-columns mt-3">
      <div>
        <p className="mb-1">
          {trace.within_pct === null ? (
            "No samples."
          ) : (
            <>
              <b>
                {decimal(trace.within_pct, 0)}
                {THIN}%
              </b>{" "}
              of the logged time inside {temperatures(trace.low_c, trace.high_c)} ({trace.band_of}),{" "}
              {decimal(trace.below_pct ?? 0, 0)}
              {THIN}% below, {decimal(trace.above_pct ?? 0, 0)}
              {THIN}% above.
            </>
          )}
        </p>
        <p className="text-secondary small mb-1">
          {how}
          {trace.logged_pct !== null &&
            trace.logged_pct < 98 &&
            ` The log covers ${decimal(trace.logged_pct, 0)} % of this time; gaps stay open.`}
        </p>
        <p className="text-secondary small mb-0">
          ■ print · ● coupons · ▲ test; filled: parts missing. The cross is the temperature noted at its start.
          {trace.more_marks && " More prints than are drawn: choose a shorter time."}
        </p>
      </div>
      <div>
        {trace.excursions.length > 0 ? (
          <>
            <h3>Outside the band</h3>
            <ul className="plain-list excursions" aria-label="Excursions">
              {trace.excursions.slice(0, 6).map((one) => (
                <li key={one.from_s}>
                  <span className={one.side === "below" ? "is-under" : "is-over"}>
                    {one.side === "below" ? "◀" : "▶"} {one.side}, {one.side === "below" ? "down" : "up"} to{" "}
                    {temperature(one.extreme_c, 1)}
                  </span>{" "}
                  {moment(text(one.from_s * 1000))} to {moment(text(one.to_s * 1000))}
                  {one.ran.length > 0 && (
                    <small className="d-block">
                      {plural(one.ran.length, "print")} came out meanwhile: {codes(one.ran)}
                    </small>
                  )}
                </li>
              ))}
            </ul>
            {trace.excursions.length > 6 && (
              <p className="small text-secondary mb-0">and {plural(trace.excursions.length - 6, "shorter one")}</p>
            )}
          </>
        ) : trace.within_pct === null ? (
          <p className="text-secondary mb-0">
            Nothing was measured in this time: whether it stayed in the band is not known.
          </p>
        ) : (
          <p className="passed mb-0">■ Never outside the band while it was measured.</p>
        )}
      </div>
    </div>
  );
}

function ProbeTools({ probe }: { probe: Probe }) {
  const say = useSay();
  const [open, setOpen] = useState<"change" | "sample" | null>(null);
  const read = useSend(
    (_: null) => body(POST("/api/probes/{probe_id}/read", { params: { path: { probe_id: probe.id } } })),
    (made) => say(`${made.name}: ${made.now ? temperature(made.now.temp_c) : "no reading"}.`),
  );
  const restore = useSend((_: null) =>
    body(POST("/api/probes/{probe_id}/restore", { params: { path: { probe_id: probe.id } } })),
  );
  const retire = useSend(
    (_: null) => body(POST("/api/probes/{probe_id}/retire", { params: { path: { probe_id: probe.id } } })),
    () => say(`${probe.name} is retired; its log stays.`, () => restore.mutate(null)),
  );
  return (
    <div className="d-flex flex-wrap gap-2 mt-3 no-print">
      {probe.driver === "hand" ? (
        <Button size="sm" onClick={() => setOpen("sample")}>
          Note a temperature…
        </Button>
      ) : (
        <Button size="sm" disabled={read.isPending} onClick={() => read.mutate(null)}>
          Read it now
        </Button>
      )}
      <Button size="sm" variant="quiet" onClick={() => setOpen("change")}>
        Change…
      </Button>
      <Button size="sm" variant="quiet" onClick={() => retire.mutate(null)}>
        Retire
      </Button>
      {open === "change" && <ProbeForm probe={probe} onClose={() => setOpen(null)} />}
      {open === "sample" && <SampleForm probe={probe} onClose={() => setOpen(null)} />}
    </div>
  );
}
