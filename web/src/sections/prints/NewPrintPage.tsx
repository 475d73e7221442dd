import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, GET, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { NO_START, type Start, startBody, StartTemperature } from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import { setsOf, useStanding } from "../../shared/useStanding";
import { useKept } from "../../shared/useKept";
import "./log.scss";

const OUTCOMES = ["whole", "in part", "missing"] as const;
type Part = { name: string; place: string; outcome: (typeof OUTCOMES)[number] };
const KEY = "setback.last-print";
type Noted = { trial: string; start: Start; end: number | null; used: number | null; seen: string };
type Last = { printer?: string; setCode?: string; place?: string; part?: string };

/** A print in a few taps: the last printer, set and place are remembered. */
export default function NewPrintPage() {
  const navigate = useNavigate();
  const say = useSay();
  const [last] = useState<Last>(() => JSON.parse(localStorage.getItem(KEY) ?? "{}") as Last);
  const [printer, setPrinter] = useState(last.printer ?? "");
  const [setCode, setSetCode] = useState<string | null>(last.setCode ?? null);
  const [noted, setNoted, forgetNoted] = useKept<Noted>("log.print", {
    trial: "",
    start: { ...NO_START, place: last.place ?? "room" },
    end: null,
    used: null,
    seen: "",
  });
  const { trial, start, end, used, seen } = noted;
  const setTrial = (trial: string) => setNoted((held) => ({ ...held, trial }));
  const setStart = (start: Start) => setNoted((held) => ({ ...held, start }));
  const setEnd = (end: number | null) => setNoted((held) => ({ ...held, end }));
  const setUsed = (used: number | null) => setNoted((held) => ({ ...held, used }));
  const setSeen = (seen: string) => setNoted((held) => ({ ...held, seen }));
  const [parts, setParts, forgetParts] = useKept<Part[]>("log.parts", [
    { name: last.part ?? "", place: "", outcome: "whole" },
  ]);
  const printers = useQuery({
    queryKey: ["shelf", "printers", false],
    queryFn: async () =>
      (await body(GET("/api/printers", { params: { query: { retired: false, limit: 200, after: "" } } }))).items.filter(
        (one) => !one.simulated,
      ),
  });
  const chosen = printer || printers.data?.[0]?.id || "";
  const sets = setsOf(useStanding().data ?? [], chosen);
  // The only set of a printer is the one it is printed with, until somebody says otherwise.
  const set = sets.find((one) => one.code === setCode) ?? (setCode === null && sets.length === 1 ? sets[0] : undefined);
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/prints", {
          body: {
            printer_id: chosen,
            set_code: set?.code ?? null,
            settings_note: trial,
            ...startBody(start),
            temp_end_c: end,
            volume_ml: used ?? 0,
            parts,
            seen,
            lift_suppressed: false,
          },
          headers,
        }),
      ),
    (made) => {
      localStorage.setItem(
        KEY,
        JSON.stringify({
          printer: chosen,
          setCode: set?.code,
          place: start.place,
          part: parts[0]!.name,
        } satisfies Last),
      );
      forgetNoted();
      forgetParts();
      say(`${made.code} is logged.`);
      void navigate("/log");
    },
  );
  const errors = send.error?.fields ?? {};
  return (
    <>
      <PageHead title="Log a print" />
      <Form
        noValidate
        className="panel log-form"
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate(null);
        }}
      >
        <Choice
          label="Printer"
          value={chosen}
          onChange={setPrinter}
          error={errors.printer_id}
          options={(printers.data ?? []).map((one) => [one.id, one.name])}
        />
        <Choice
          label="Issued set"
          value={set?.code ?? ""}
          none="none: trial settings"
          onChange={setSetCode}
          error={errors.set_code}
          options={sets.map((one) => [one.code, `${one.code}: ${one.material}, ${one.layer_height_um} µm`])}
        />
        {!set && <TextField label="Trial settings" value={trial} onChange={setTrial} placeholder="Slate 2, 2.6 s" />}
        <StartTemperature
          key={chosen}
          printer={chosen || null}
          setCode={set?.code}
          value={start}
          onChange={setStart}
          errors={errors}
        />
        <NumberField
          label="Resin at the end"
          unit="°C"
          value={end}
          onChange={setEnd}
          error={errors.temp_end_c}
          hint="empty: from a probe in it, if there is one"
        />
        <NumberField label="Resin used" unit="ml" value={used} onChange={setUsed} error={errors.volume_ml} />
        <PrintedParts parts={parts} onParts={setParts} errors={errors} />
        <TextField label="What was seen" value={seen} onChange={setSeen} lines={2} className="wide" />
        <div className="wide">
          <Trouble
            error={send.error && (!Object.keys(errors).length || errors.vat || errors.lift) ? send.error : null}
            className="mb-2"
          />
          <Button type="submit" size="lg" disabled={send.isPending || !chosen}>
            Log it
          </Button>
        </div>
      </Form>
    </>
  );
}

/** What was on the plate, and how each of it came out. */
function PrintedParts({
  parts,
  onParts,
  errors,
}: {
  parts: Part[];
  onParts: (parts: Part[]) => void;
  errors: Record<string, string>;
}) {
  const change = (index: number, changes: Partial<Part>) =>
    onParts(parts.map((part, at) => (at === index ? { ...part, ...changes } : part)));
  return (
    <fieldset className="parts">
      <legend className="form-label">Parts and how each came out</legend>
      {parts.map((part, index) => (
        <div key={index} className="part">
          <Form.Control
            aria-label={`Part ${index + 1}`}
            placeholder="What it is"
            value={part.name}
            isInvalid={Boolean(errors[`parts.${index}.name`])}
            onChange={(event) => change(index, { name: event.target.value })}
          />
          <Form.Control
            aria-label={`Place of part ${index + 1}`}
            placeholder="Place"
            value={part.place}
            onChange={(event) => change(index, { place: event.target.value })}
          />
          <div className="btn-group" role="group" aria-label={`Outcome of part ${index + 1}`}>
            {OUTCOMES.map((outcome) => (
              <Button
                key={outcome}
                variant={part.outcome === outcome ? "primary" : "quiet"}
                aria-pressed={part.outcome === outcome}
                onClick={() => change(index, { outcome })}
              >
                {outcome}
              </Button>
            ))}
          </div>
        </div>
      ))}
      <Button
        variant="link"
        className="p-0"
        onClick={() => onParts([...parts, { name: parts.at(-1)?.name ?? "", place: "", outcome: "whole" }])}
      >
        One more part
      </Button>
      {errors.parts && <p className="trouble">{errors.parts}</p>}
      {Object.keys(errors).some((name) => /^parts\.\d+\.name$/.test(name)) && (
        <p className="trouble mb-0">Say what was printed.</p>
      )}
    </fieldset>
  );
}
