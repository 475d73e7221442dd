import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useSearchParams } from "react-router";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { Choice } from "../../shared/fields/Choice";
import { THIN, decimal, roughly } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { signOfUnit, inLabUnit } from "../../shared/labForm";

/** Sliders for the weights; the ranking and the weights at which it turns follow. */
export function WeightedIndex({ table }: { table: Schemas["PropertyTable"] }) {
  const [query, setQuery] = useSearchParams();
  const [confirmed, setConfirmed] = useState(false);
  const baseline = query.get("baseline") ?? table.baseline_id ?? "";
  const weightOf = (key: string) => Number(query.get(key) ?? (table.weighed.includes(key) ? 1 : 0));
  const weights = table.columns.map((column) => ({ property: column.key, weight: weightOf(column.key) }));
  const given = { weights, baseline_id: baseline, confirmed };
  const index = useQuery<Schemas["IndexView"], ApiError>({
    queryKey: ["property-index", given],
    queryFn: () => body(POST("/api/properties/index", { body: given })),
    enabled: weights.some((one) => one.weight > 0),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const set = (key: string, value: string) =>
    setQuery(
      (held) => {
        held.set(key, value);
        return held;
      },
      { replace: true },
    );
  const result = index.error ? undefined : index.data?.result;
  return (
    <section className="panel" aria-label="Weighted index">
      <h2>One number, and what it hangs on</h2>
      <p className="text-secondary">
        A weighted mean of ratios to the baseline, which has 100. One number hides trade-offs: read it beside the table,
        never instead of it.
      </p>
      <div className="row g-3">
        <div className="col-lg-6">
          <Choice
            label="Baseline"
            value={baseline}
            onChange={(id) => set("baseline", id)}
            error={index.error?.fields.baseline_id}
            options={table.materials.map((one) => [one.material_id, one.material])}
          />
          <div className="weights mt-3">
            {table.columns.map((column) => (
              <WeightRow
                key={column.key}
                column={column}
                weight={weightOf(column.key)}
                onWeight={(weight) => set(column.key, String(weight))}
              />
            ))}
          </div>
        </div>
        <div className="col-lg-6" aria-live="polite">
          {index.error?.status === 409 ? (
            <div className="trouble">
              <p>{index.error.message}</p>
              <Button size="sm" onClick={() => setConfirmed(true)}>
                Compare all the same
              </Button>
            </div>
          ) : (
            <Trouble error={index.error && !index.error.fields.baseline_id ? index.error : null} />
          )}
          {weights.every((one) => one.weight === 0) && <p>Give at least one property some weight.</p>}
          {result && index.data && <Ranking view={index.data} />}
        </div>
      </div>
    </section>
  );
}

function WeightRow({
  column,
  weight,
  onWeight,
}: {
  column: Schemas["Column"];
  weight: number;
  onWeight: (weight: number) => void;
}) {
  return (
    <>
      <span>
        {column.name} <small className="text-secondary">{column.method_name.toLowerCase()}</small>
      </span>
      <Form.Range
        aria-label={`Weight of ${column.name}, ${column.method_name.toLowerCase()}`}
        min={0}
        max={5}
        step={0.5}
        value={weight}
        onChange={(event) => onWeight(Number(event.target.value))}
      />
      <span className="num text-end">{weight}</span>
    </>
  );
}

/** Who leads, what each owes it to, and at which weights the lead turns. */
function Ranking({ view }: { view: Schemas["IndexView"] }) {
  const { result } = view;
  const most = Math.max(...result.ranking.map((one) => one.index));
  return (
    <>
      <ol className="list-unstyled">
        {result.ranking.map((one) => (
          <li key={one.name} className="mb-2">
            <div className="d-flex">
              <b className="me-auto">{one.name}</b>
              <span className="num">{one.index.toFixed(0)}</span>
            </div>
            <div className="rank-bar" style={{ width: `${(100 * one.index) / most}%` }} />
            <small className="text-secondary">
              {one.shares
                .filter((share) => Math.abs(share.points) >= 0.5)
                .map((share) => `${share.name} ×${THIN}${decimal(share.ratio, 2)}`)
                .join(" · ")}
            </small>
          </li>
        ))}
      </ol>
      {result.flips.length > 0 && (
        <p className="small mb-2">
          The lead turns{" "}
          {result.flips.map((flip, at) => (
            <span key={flip.criterion}>
              {at > 0 && ", "}
              to {flip.to} when {flip.criterion.split(",")[0]?.toLowerCase()} weighs {decimal(flip.at_weight, 1)}{" "}
              instead of {flip.weight}
            </span>
          ))}
          .
        </p>
      )}
      {result.warnings
        .filter((one) => one.code !== "one-number")
        .map((one) => (
          <p key={one.code} className="caution mb-2">
            {one.message}
          </p>
        ))}
      {view.mixed.map((one) => (
        <p key={one} className="caution mb-2">
          {one}
        </p>
      ))}
      {view.left_out.length > 0 && (
        <p className="small">Not ranked, something is not tested: {view.left_out.join(", ")}.</p>
      )}
      {view.costs.length > 0 && (
        <details className="small">
          <summary>Cost per litre for each unit of a property</summary>
          <ul>
            {view.costs.map((one) => (
              <li key={`${one.material}${one.property}`}>
                {one.material}, {one.property.toLowerCase()}:{" "}
                <span className="num">{roughly(one.per_unit / inLabUnit(1, one.unit, true))}</span> per{" "}
                {signOfUnit(one.unit)}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
