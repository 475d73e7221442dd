import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { body, GET, PUT, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { NumberField } from "../../../shared/fields/NumberField";
import { exposure, THIN } from "../../../shared/format";
import { Trouble } from "../../../shared/Trouble";
import type { Calibration } from "../model";

type Sources = Schemas["SourcesView"];

/** Where the range comes from, in order of rising trust, each with what it may be trusted for. */
export function SourceChoice({
  calibration,
  sources,
  onRange,
}: {
  calibration: Calibration;
  sources: Sources;
  onRange: (low: number, high: number) => void;
}) {
  const [number, setNumber] = useState<number | null>(null);
  const choose = useSend(
    async ({ source, low_s, high_s }: { source: Schemas["RangeInput"]["source"]; low_s: number; high_s: number }) =>
      body(
        PUT("/api/calibrations/{calibration_id}/range", {
          params: { path: { calibration_id: calibration.id } },
          body: { version: calibration.version, source, low_s, high_s },
        }),
      ),
    (held) => onRange(held.low_s, held.high_s),
  );
  const borrow = useSend(
    (number_s: number) =>
      body(
        GET("/api/calibrations/{calibration_id}/borrowed-range", {
          params: { path: { calibration_id: calibration.id }, query: { number_s } },
        }),
      ),
    (range) => choose.mutate({ source: "borrowed", ...range }),
  );
  const chosen = sources.sources.find((one) => one.key === sources.chosen);
  // What was just clicked, before the server has answered.
  const shown = choose.isPending ? choose.variables?.source : sources.chosen;
  const measured = sources.sources.find((one) => one.key === sources.measured);
  const take = (one: Schemas["SourceView"]) =>
    choose.mutate({ source: one.key, low_s: one.low_s ?? calibration.low_s, high_s: one.high_s ?? calibration.high_s });
  const better = sources.sources.filter((one) => one.missing && one.key !== sources.chosen);
  const span = (low: number, high: number) =>
    `${exposure(low, sources.exposure_step_s)}–${exposure(high, sources.exposure_step_s)}${THIN}s`;
  return (
    <fieldset className="sources mb-3">
      <legend className="form-label">Start from, least reliable first</legend>
      {sources.sources
        .filter((one) => !one.missing || one.key === sources.chosen)
        .map((one) => (
          <Form.Check
            key={one.key}
            type="radio"
            name="source"
            id={`source-${one.key}`}
            checked={one.key === shown}
            title={one.basis}
            label={
              <>
                {one.name}
                {one.low_s !== null && one.high_s !== null && (
                  <span className="num text-secondary"> {span(one.low_s, one.high_s)}</span>
                )}
              </>
            }
            onChange={() => take(one)}
          />
        ))}
      {chosen && <p className="small text-secondary mb-1">{[chosen.trust, chosen.basis].filter(Boolean).join(" ")}</p>}
      {measured && !choose.isPending && (
        <p className="mb-1">
          Measured here since: the {measured.name.toLowerCase()}.{" "}
          <Button variant="link" className="p-0 py-0 align-baseline" onClick={() => take(measured)}>
            Start from it
          </Button>
        </p>
      )}
      {sources.chosen === "borrowed" && (
        <div className="d-flex gap-2 align-items-end">
          <NumberField label="Their number" unit="s" value={number} onChange={setNumber} />
          <Button
            variant="quiet"
            disabled={number === null || borrow.isPending}
            onClick={() => number !== null && borrow.mutate(number)}
          >
            Range around it
          </Button>
        </div>
      )}
      <Trouble error={choose.error ?? borrow.error} className="mt-2" />
      {better.length > 0 && (
        <details className="small">
          <summary>
            {better.length === 1 ? "One source" : `${better.length} sources`} to be trusted more, not here yet
          </summary>
          <ul className="mb-1">
            {better.map((one) => (
              <li key={one.key}>
                <b>{one.name}:</b> {one.missing}
              </li>
            ))}
          </ul>
        </details>
      )}
    </fieldset>
  );
}
