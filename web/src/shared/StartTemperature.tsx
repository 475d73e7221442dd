import { Choice } from "./fields/Choice";
import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { NumberField } from "./fields/NumberField";
import { TextField } from "./fields/TextField";
import { temperature } from "./format";
import { useGet } from "./api/useGet";
import type { Schemas } from "./api/client";
import { wordsOf } from "./words";

/** `typed` says that a person gave it; what a probe gave follows the probe. */
type TempPlace = NonNullable<Schemas["PrintedInput"]["temp_place"]>;
export type Start = { temp: number | null; place: TempPlace; reason: string; typed: boolean };
export const NO_START: Start = { temp: null, place: "room", reason: "", typed: false };
export const TEMP_PLACES = wordsOf<TempPlace>({ resin: "resin", "chamber air": "chamber air", room: "room" });

/** Whether what the server found belongs to these fields. */
export const isAtStart = (errors: Record<string, string>) =>
  ["temp_c", "temp_place", "outside_band"].some((name) => name in errors);

/** What a print's start says to the server. */
export const startBody = (start: Start) => ({
  temp_c: start.temp,
  temp_place: start.temp === null ? null : start.place,
  temp_end_c: null as number | null,
  outside_band: start.reason,
});

type Props = {
  printer: string | null;
  setCode?: string | null;
  value: Start;
  onChange: (value: Start) => void;
  /** What a probe says, where a form tells it from what a person typed. */
  onSuggest?: (value: Start) => void;
  errors: Record<string, string>;
  autoFocus?: boolean;
  /** The moment it began, where that is past; "unknown" where nobody said: then no probe is asked. */
  at?: string | null;
};

/** How warm it is at the start: taken from a probe where one speaks, and held against the band of the set. */
export function StartTemperature({
  printer,
  setCode,
  value,
  onChange,
  onSuggest = onChange,
  errors,
  autoFocus,
  at,
}: Props) {
  const told = useGet(
    "/api/how-warm",
    printer && at !== "unknown" ? { params: { query: { printer_id: printer, at: at ?? null } } } : null,
  );
  const { now, last } = told.data ?? {};
  useEffect(() => {
    if (!value.typed && at === "unknown" && value.temp !== null) onSuggest({ ...value, temp: null });
    if (now && !value.typed) onSuggest({ ...value, temp: Math.round(now.temp_c * 10) / 10, place: now.place });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a probe speaks once; what a person typed stays
  }, [now, at]);
  const code = setCode && /^S-\d{3,}$/i.test(setCode.trim()) ? setCode.trim().toUpperCase() : null;
  const held = useGet(
    "/api/band",
    code !== null && value.temp !== null && value.temp >= -20 && value.temp <= 80
      ? { params: { query: { set_code: code, temp_c: value.temp } } }
      : null,
    { retry: false },
  );
  const band = held.data?.side ? held.data : null;
  // What is printed already is warmed no more.
  const isPast = Boolean(at);
  const from = now && value.temp === Math.round(now.temp_c * 10) / 10 ? `by ${now.probe}` : undefined;
  return (
    <>
      <div>
        <NumberField
          autoFocus={autoFocus}
          label="Temperature at start"
          unit="°C"
          value={value.temp}
          error={errors.temp_c}
          hint={from}
          onChange={(temp) => onChange({ ...value, temp, typed: true })}
        />
        {last && value.temp === null && (
          <Button
            variant="link"
            size="sm"
            className="p-0"
            onClick={() => onChange({ ...value, temp: last.temp_c, place: last.temp_place, typed: true })}
          >
            {temperature(last.temp_c)} in the {last.temp_place === "chamber air" ? "chamber" : last.temp_place}, as{" "}
            {last.code}
          </Button>
        )}
      </div>
      <Choice
        label="Measured in"
        value={value.place}
        options={TEMP_PLACES}
        error={errors.temp_place}
        onChange={(place) => onChange({ ...value, place, typed: true })}
      />
      {band && (
        <div className="band-gate" role="alert">
          <p className="mb-1">
            <b>Outside its band.</b> {band.words}
          </p>
          {!isPast && (
            <p className="mb-2">
              {band.remedy}{" "}
              {band.side === "below" && (
                <Link to={`/climate/warm-start?printer=${band.printer_id}&set=${band.set_code}`}>
                  Plan a warm start
                </Link>
              )}
            </p>
          )}
          <TextField
            label={isPast ? "Printed all the same because" : "Print anyway because"}
            value={value.reason}
            onChange={(text) => onChange({ ...value, reason: text })}
            error={
              errors.outside_band &&
              (isPast
                ? "Say why it was printed: it is recorded with the print."
                : "Say why it goes on: it is recorded with the print.")
            }
          />
        </div>
      )}
    </>
  );
}
