import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { decimal, duration, moment, plural, THIN, inUnit, temperature } from "../../shared/format";
import { CurvePlot } from "../../shared/plot/CurvePlot";
import { Trouble } from "../../shared/Trouble";
import { HeaterForm } from "./HeaterForm";
import { useGet } from "../../shared/api/useGet";

const text = (second: number) => new Date(second * 1000).toISOString().slice(0, 19) + "Z";

/** What the chamber is, thermally: found from one heating that is marked on the log. */
type Span = [number, number];
type Props = { probe: Schemas["ProbeView"]; picked: Span | null; onPick: (span: Span | null) => void };

export function FitPanel({ probe, picked, onPick }: Props) {
  const say = useSay();
  const [heater, setHeater] = useState("");
  const [room, setRoom] = useState<number | null>(null);
  const [adding, setAdding] = useState(false);
  const heaters = useGet("/api/heaters", {}, { select: (answer) => answer.items });
  const fits = useGet("/api/chamber-fits", {}, { select: (answer) => answer.items });
  const held = fits.data?.find((one) => one.printer_id === probe.printer_id);
  const chosen = heater || held?.heater_id || heaters.data?.find((one) => one.cut_out)?.id || "";
  const restore = useSend((fit_id: string) =>
    body(POST("/api/chamber-fits/{fit_id}/restore", { params: { path: { fit_id } } })),
  );
  const withdraw = useSend(
    (fit_id: string) => body(POST("/api/chamber-fits/{fit_id}/withdraw", { params: { path: { fit_id } } })),
    (_, id) => say("The curve is withdrawn; the one before counts again.", () => restore.mutate(id)),
  );
  const send = useSend(
    ([from, to]: [number, number], headers) =>
      body(
        POST("/api/chamber-fits", {
          body: {
            probe_id: probe.id,
            heater_id: chosen,
            from_at: text(from),
            to_at: text(to),
            ambient_c: room,
          },
          headers,
        }),
      ),
    (made) => say(`${made.printer}: time constant ${duration(made.result.time_constant_s)}.`),
  );
  return (
    <section className="panel mt-3" aria-label="Heating curve">
      <h2>What the chamber of {probe.printer} is</h2>
      <div className="two-columns">
        <div>
          {held ? (
            <>
              <Known held={held} />
              <Button size="sm" variant="quiet" onClick={() => withdraw.mutate(held.id)}>
                Withdraw it
              </Button>
            </>
          ) : (
            <p className="text-secondary">
              Nothing is known yet. Switch the heater on for an hour with the lid shut and the probe in the chamber; the
              curve tells how fast it warms, and how much it loses.
            </p>
          )}
          <h3 className="mt-3">From a heating on the log</h3>
          <p className="mb-2">
            {picked
              ? `Marked: ${moment(text(picked[0]))} to ${moment(text(picked[1]))}.`
              : "Draw over the log above from switching on to switching off, or type both times."}
          </p>
          <SpanFields picked={picked} onPick={onPick} />
          <div className="two">
            <Choice
              label="Heater"
              value={chosen}
              onChange={setHeater}
              options={(heaters.data ?? []).map((one) => [one.id, `${one.name}, ${one.watts}${THIN}W`])}
            />
            <NumberField
              label="Room temperature meanwhile"
              unit="°C"
              value={room}
              onChange={setRoom}
              error={send.error?.fields.ambient_c}
              hint="empty: from its probe"
            />
          </div>
          <Trouble error={send.error && !send.error.fields.ambient_c ? send.error : null} className="mt-2" />
          <div className="d-flex gap-2 mt-2">
            <Button disabled={!picked || !chosen || send.isPending} onClick={() => picked && send.mutate(picked)}>
              Find the curve
            </Button>
            <Button variant="quiet" onClick={() => setAdding(true)}>
              Add a heater…
            </Button>
          </div>
        </div>
        {held && (
          <div className="position-relative pt-4">
            <CurvePlot
              name={`Heating of ${held.printer}`}
              across="min"
              up=""
              upUnit="°C"
              points={[]}
              lines={[
                { points: held.curve.map(([second, temp]) => [second / 60, temp]) },
                { soft: true, ink: true, points: fitted(held) },
              ]}
              height={260}
            />
            <p className="small text-secondary mb-0">Solid: logged. Dashed: the curve through it.</p>
          </div>
        )}
      </div>
      {adding && <HeaterForm onClose={() => setAdding(false)} />}
    </section>
  );
}

/** Both ends of a heating as times to type: what is drawn over the log with a mouse. */
function SpanFields({ picked, onPick }: Omit<Props, "probe">) {
  const [typed, setTyped] = useState<[string, string]>(["", ""]);
  const shown = picked ? [local(picked[0]), local(picked[1])] : typed;
  function type(at: 0 | 1, value: string) {
    const next: [string, string] = at === 0 ? [value, shown[1] ?? ""] : [shown[0] ?? "", value];
    setTyped(next);
    const [from, to] = next.map((one) => (one ? Date.parse(one) / 1000 : Number.NaN));
    onPick(from !== undefined && to !== undefined && from < to ? [from, to] : null);
  }
  const isTurned = Boolean(shown[0] && shown[1]) && Date.parse(shown[0] ?? "") >= Date.parse(shown[1] ?? "");
  return (
    <div className="two mb-2">
      <TextField
        type="datetime-local"
        label="Switched on"
        value={shown[0] ?? ""}
        onChange={(value) => type(0, value)}
      />
      <TextField
        type="datetime-local"
        label="Switched off"
        value={shown[1] ?? ""}
        onChange={(value) => type(1, value)}
        error={isTurned && "This is before it was switched on."}
      />
    </div>
  );
}

/** A moment as a field for day and time takes it: by this machine's clock. */
function local(second: number): string {
  const at = new Date(second * 1000);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** The fitted curve at the times that were logged, as the server gave it. */
const fitted = (held: Schemas["ChamberFit"]): [number, number][] =>
  held.fitted.map(([second, temp]) => [second / 60, temp]);

/** The numbers of a chamber, and where they come from. */
function Known({ held }: { held: Schemas["ChamberFit"] }) {
  return (
    <>
      <dl className="facts">
        <dt>{held.result.fast_time_constant_s ? "Time constant, slower mass" : "Time constant"}</dt>
        <dd className="num">
          {duration(held.result.time_constant_s)}
          {held.result.time_constant_ci_s &&
            ` (${decimal(held.result.time_constant_ci_s[0] / 60, 1)} to ${decimal(held.result.time_constant_ci_s[1] / 60, 1)} min)`}
        </dd>
        {held.result.fast_time_constant_s && (
          <>
            <dt>Faster mass</dt>
            <dd className="num">{duration(held.result.fast_time_constant_s)}</dd>
          </>
        )}
        <dt>Ends at, never switched off</dt>
        <dd className="num">
          {temperature(held.result.steady_c, 1)}
          {held.result.steady_ci_c &&
            ` (${inUnit(held.result.steady_ci_c[0], "°C", 1)} to ${inUnit(held.result.steady_ci_c[1], "°C", 1)})`}
        </dd>
        <dt>Heat lost per degree</dt>
        <dd className="num">
          {decimal(held.loss_w_per_k, 2)}
          {THIN}W
        </dd>
        <dt>Heat for one degree</dt>
        <dd className="num">
          {decimal(held.heat_capacity_j_per_k / 1000, 1)}
          {THIN}kJ
        </dd>
        <dt>From</dt>
        <dd>
          {held.heater}, {plural(held.result.n, "sample")}, {moment(held.at)}
          {held.initials && `, ${held.initials}`}
        </dd>
      </dl>
      {held.result.warnings.map((one) => (
        <p key={one.code} className="caution">
          {one.message}
        </p>
      ))}
    </>
  );
}
