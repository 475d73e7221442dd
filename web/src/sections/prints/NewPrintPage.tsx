import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, GET, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { DraftNote } from "../../shared/fields/DraftNote";
import { useEntry } from "../../shared/fields/useEntry";
import { isAtStart, NO_START, type Start, startBody, StartTemperature } from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import { setsOf, useStanding } from "../../shared/useStanding";
import "./log.scss";
import { wordsOf } from "../../shared/words";

type Part = { name: string; place: string; outcome: Schemas["PrintedPartInput"]["outcome"] };
const OUTCOMES = wordsOf<Part["outcome"]>({ whole: "whole", "in part": "in part", missing: "missing" });
const KEY = "setback.last-print";
type Noted = {
  printer_id: string;
  /** Null until somebody chose: the only set of a printer is the one it is printed with. */
  set_code: string | null;
  settings_note: string;
  start: Start;
  temp_end_c: number | null;
  volume_ml: number | null;
  seen: string;
  parts: Part[];
};
type Last = { printer?: string; setCode?: string; place?: Start["place"]; part?: string };

/** A print in a few taps: the last printer, set and place are remembered. */
export default function NewPrintPage() {
  const navigate = useNavigate();
  const say = useSay();
  const [last] = useState<Last>(() => JSON.parse(localStorage.getItem(KEY) ?? "{}") as Last);
  const entry = useEntry<Noted>(
    {
      printer_id: last.printer ?? "",
      set_code: last.setCode ?? null,
      settings_note: "",
      start: { ...NO_START, place: last.place ?? "room" },
      temp_end_c: null,
      volume_ml: null,
      seen: "",
      parts: [{ name: last.part ?? "", place: "", outcome: "whole" }],
    },
    "log.print",
  );
  const { start, printer_id, set_code, ...noted } = entry.values;
  const printers = useQuery({
    queryKey: ["shelf", "printers", false],
    queryFn: async () =>
      (await body(GET("/api/printers", { params: { query: { retired: false, limit: 200, after: "" } } }))).items.filter(
        (one) => !one.simulated,
      ),
  });
  const chosen = printer_id || printers.data?.[0]?.id || "";
  const sets = setsOf(useStanding().data ?? [], chosen);
  const set =
    sets.find((one) => one.code === set_code) ?? (set_code === null && sets.length === 1 ? sets[0] : undefined);
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/prints", {
          body: {
            printer_id: chosen,
            set_code: set?.code ?? null,
            ...startBody(start),
            ...noted,
            volume_ml: noted.volume_ml ?? 0,
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
          part: noted.parts[0]?.name,
        } satisfies Last),
      );
      entry.forget();
      say(`${made.code} is logged.`);
      void navigate("/log");
    },
  );
  const { field, errors, elsewhere } = entry.checked(send.error);
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
        <DraftNote entry={entry} />
        <Choice
          label="Printer"
          {...field("printer_id")}
          value={chosen}
          options={(printers.data ?? []).map((one) => [one.id, one.name])}
        />
        <Choice
          label="Issued set"
          {...field("set_code")}
          value={set?.code ?? ""}
          none="none: trial settings"
          options={sets.map((one) => [one.code, `${one.code}: ${one.material}, ${one.layer_height_um} µm`])}
        />
        {!set && <TextField label="Trial settings" {...field("settings_note")} placeholder="Slate 2, 2.6 s" />}
        <StartTemperature
          key={chosen}
          printer={chosen || null}
          setCode={set?.code}
          {...field("start")}
          errors={errors}
        />
        <NumberField
          label="Resin at the end"
          unit="°C"
          {...field("temp_end_c")}
          hint="empty: from a probe in it, if there is one"
        />
        <NumberField label="Resin used" unit="ml" {...field("volume_ml")} />
        <PrintedParts parts={noted.parts} onParts={(parts) => entry.set({ parts })} errors={errors} />
        <TextField label="What was seen" {...field("seen")} lines={2} className="wide" />
        <div className="wide">
          <Trouble error={isAtStart(errors) ? null : elsewhere} className="mb-2" />
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
            {OUTCOMES.map(([outcome, word]) => (
              <Button
                key={outcome}
                variant={part.outcome === outcome ? "primary" : "quiet"}
                aria-pressed={part.outcome === outcome}
                onClick={() => change(index, { outcome })}
              >
                {word}
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
