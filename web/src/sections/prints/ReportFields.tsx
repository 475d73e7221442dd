import Form from "react-bootstrap/Form";
import type { Schemas } from "../../shared/api/client";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useGet } from "../../shared/api/useGet";
import { type Counted, CountedParts, failedOf, partsBody } from "./CountedParts";
import { momentOf } from "./moments";
import { PlateTap } from "./PlateTap";
import { type Symptom, Symptoms } from "./Symptoms";

/** What is said of a print when it came out. */
export type Report = {
  parts: Counted[];
  symptoms: Symptom[];
  seen: string;
  finished_at: string;
  volume_ml: number | null;
  minutes: number | null;
  temp_end_c: number | null;
  dry_min: number | null;
  cure_min: number | null;
  /** Null: by what was seen. */
  pieces_lost: boolean | null;
};
export const reportBody = (report: Report): Schemas["ReportInput"] => ({
  parts: partsBody(report.parts),
  symptoms: isAllWhole(report.parts) ? [] : report.symptoms,
  seen: report.seen,
  finished_at: momentOf(report.finished_at),
  volume_ml: report.volume_ml,
  minutes: report.minutes,
  temp_end_c: report.temp_end_c,
  dry_min: report.dry_min,
  cure_min: report.cure_min,
  pieces_lost: report.pieces_lost,
});
export const isAllWhole = (parts: Counted[]) => parts.every((one) => one.whole === null || one.whole === one.printed);

type Props = {
  report: Report;
  onChange: (changes: Partial<Report>) => void;
  errors: Record<string, string>;
  plate?: { plate_x_mm: number; plate_y_mm: number };
  /** Parts as they were planned. */
  fixed?: boolean;
};

/** How a print came out: counts first, what was seen only where something failed, the rest with usual values. */
export function ReportFields({ report, onChange, errors, plate, fixed }: Props) {
  const failed = !isAllWhole(report.parts);
  const placed = report.parts.some((one) => one.x_mm !== null);
  const mark = (part: number) =>
    onChange({
      parts: report.parts.map((one, at) => (at === part ? { ...one, whole: one.whole === 0 ? null : 0 } : one)),
    });
  return (
    <>
      <CountedParts
        parts={report.parts}
        onChange={(parts) => onChange({ parts })}
        errors={errors}
        counts
        fixed={fixed}
      />
      {placed && plate && (
        <div className="wide">
          <span className="form-label d-block">Tap what failed</span>
          <PlateTap
            width_mm={plate.plate_x_mm}
            height_mm={plate.plate_y_mm}
            parts={placedOf(report.parts)}
            onMark={mark}
          />
        </div>
      )}
      {failed && (
        <>
          <Symptoms value={report.symptoms} onChange={(symptoms) => onChange({ symptoms })} />
          <BothSides report={report} onChange={(parts) => onChange({ parts })} errors={errors} />
          <Form.Check
            className="wide"
            id="pieces-lost"
            label="Every piece is there: the vat need not be searched"
            checked={report.pieces_lost === false}
            onChange={(event) => onChange({ pieces_lost: event.target.checked ? false : null })}
          />
        </>
      )}
      <TextField
        label="It ended"
        type="datetime-local"
        value={report.finished_at}
        onChange={(finished_at) => onChange({ finished_at })}
        error={errors.finished_at}
        hint="empty: now"
      />
      <NumberField
        label="It took"
        unit="min"
        value={report.minutes}
        onChange={(minutes) => onChange({ minutes })}
        error={errors.minutes}
      />
      <NumberField
        label="Resin used"
        unit="ml"
        value={report.volume_ml}
        onChange={(volume_ml) => onChange({ volume_ml })}
        error={errors.volume_ml}
      />
      <NumberField
        label="Resin at the end"
        unit="°C"
        value={report.temp_end_c}
        onChange={(temp_end_c) => onChange({ temp_end_c })}
        error={errors.temp_end_c}
        hint="empty: from a probe in it, if there is one"
      />
      <NumberField
        label="Dried for"
        unit="min"
        value={report.dry_min}
        onChange={(dry_min) => onChange({ dry_min })}
        error={errors.dry_min}
        hint="empty: not noted"
      />
      <NumberField
        label="Cured for"
        unit="min"
        value={report.cure_min}
        onChange={(cure_min) => onChange({ cure_min })}
        error={errors.cure_min}
        hint="empty: not noted"
      />
      <TextField
        label="What else was seen"
        value={report.seen}
        onChange={(seen) => onChange({ seen })}
        error={errors.seen}
        lines={2}
        className="wide"
      />
    </>
  );
}

/** Signs of too little and of too much light at once: how many failed in which way is asked, for nobody else can tell. */
function BothSides({
  report,
  onChange,
  errors,
}: {
  report: Report;
  onChange: (parts: Counted[]) => void;
  errors: Record<string, string>;
}) {
  const all = useGet("/api/print-symptoms", {}, { select: (answer) => answer.items, staleTime: Infinity });
  const sides = new Set(
    (all.data ?? []).filter((one) => report.symptoms.includes(one.key as Symptom)).map((one) => one.side),
  );
  if (!sides.has("under") || !sides.has("over")) return null;
  const change = (part: number, counts: Partial<Counted>) =>
    onChange(report.parts.map((one, at) => (at === part ? { ...one, ...counts } : one)));
  return (
    <fieldset className="wide">
      <legend className="form-label">These signs speak for both sides: how many had which?</legend>
      {report.parts.map((part, at) =>
        failedOf(part) > 0 ? (
          <div key={at} className="settings-grid">
            <NumberField
              label={`${part.name}: too little light`}
              hint={`of ${failedOf(part)} that failed`}
              value={part.under ?? null}
              onChange={(under) => change(at, { under })}
              error={errors[`parts.${at}.under`]}
            />
            <NumberField
              label={`${part.name}: too much light`}
              hint="the rest failed otherwise"
              value={part.over ?? null}
              onChange={(over) => change(at, { over })}
              error={errors[`parts.${at}.over`]}
            />
          </div>
        ) : null,
      )}
    </fieldset>
  );
}

export const placedOf = (parts: Counted[]) => parts.map((one) => ({ ...one, printed: one.printed ?? 1 }));
