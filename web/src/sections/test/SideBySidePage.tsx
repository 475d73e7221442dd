import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Table from "react-bootstrap/Table";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { ApiError, body, GET, POST, type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { decimal, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { csv, save } from "../../shared/table/csv";
import { Trouble } from "../../shared/Trouble";
import { TestTabs } from "./TestTabs";
import "./test.scss";

type PropertyTable = Schemas["PropertyTable"];

/** All properties of all materials that were tested, and one weighted index that shows what it hangs on. */
export default function SideBySidePage() {
  const table = useQuery({ queryKey: ["properties"], queryFn: () => body(GET("/api/properties")) });
  return (
    <>
      <PageHead title="Side by side" sub={table.data && plural(table.data.materials.length, "material")} />
      <TestTabs />
      <Loaded query={table}>
        {(held) =>
          held.materials.length ? (
            <div className="side-by-side d-grid gap-3">
              <Properties table={held} />
              <Index table={held} />
            </div>
          ) : (
            <EmptyState purpose="Every property of every material stands here once it was tested: no single number stands alone.">
              <Link className="btn btn-primary" to="/test/new">
                Plan a test
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function Properties({ table }: { table: PropertyTable }) {
  const text = (cell: Schemas["PropertyCell"] | undefined) => (cell ? (cell.value === null ? cell.words : decimal(cell.value, cell.decimals)) : "");
  return (
    <section className="panel p-0" aria-label="Properties by material">
      <div className="d-flex p-2 no-print">
        <Button variant="quiet" size="sm" className="ms-auto" onClick={() => save("properties.csv", csv(["Property", "Unit", ...table.materials.map((one) => one.material)], table.columns.map((column) => [`${column.name}, ${column.method_name}`, column.unit, ...table.materials.map((one) => text(one.cells[column.key]))])))}>
          Export CSV
        </Button>
      </div>
      <div className="px-2" style={{ overflowX: "auto" }}>
        <Table aria-label="Properties by material">
          <thead>
            <tr>
              <th>Property</th>
              {table.materials.map((one) => (
                <th key={one.material_id} className="text-end">
                  {one.kind === "reference" ? one.material : <Link to={`/materials/${one.material_id}`}>{one.material}</Link>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.columns.map((column) => (
              <tr key={column.key}>
                <th scope="row" className="fw-normal">
                  {column.name} <span className="text-secondary small d-block">{[column.method_name.toLowerCase(), column.unit, `${column.better} is better`].join(", ")}</span>
                  {column.mixed && <span className="small named d-block">{column.mixed}</span>}
                </th>
                {table.materials.map((one) => (
                  <td key={one.material_id} className="text-end">
                    <CellOf cell={one.cells[column.key]} column={column} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </section>
  );
}

function CellOf({ cell, column }: { cell: Schemas["PropertyCell"] | undefined; column: Schemas["Column"] }) {
  if (!cell) return <span className="text-secondary">–</span>;
  return (
    <>
      <Link className="num" to={`/test/${cell.test_code}`} title={cell.words}>
        {cell.value === null ? "none broke" : decimal(cell.value, cell.decimals)}
      </Link>
      <span className="small text-secondary d-block num">
        {cell.ci && `${decimal(cell.ci[0], cell.decimals)}…${decimal(cell.ci[1], cell.decimals)}, `}n{THIN}={THIN}
        {cell.n}
      </span>
      {cell.bound !== null && (
        <span className="small text-secondary d-block num">
          9 in 10 {column.better === "higher" ? "≥" : "≤"} {decimal(cell.bound, cell.decimals)}
        </span>
      )}
      {cell.tried && <span className="small text-secondary d-block">at {cell.tried}</span>}
      {cell.named && (
        <span className="small named d-block" title={cell.named}>
          not a fair comparison
        </span>
      )}
    </>
  );
}

/** Sliders for the weights; the ranking and the weights at which it turns follow. */
function Index({ table }: { table: PropertyTable }) {
  const [query, setQuery] = useSearchParams();
  const [confirmed, setConfirmed] = useState(false);
  // At first: the material that was tried in most ways, and what it shares with others.
  const tried = [...table.materials].sort((a, b) => Object.keys(b.cells).length - Object.keys(a.cells).length)[0]!;
  const baseline = query.get("baseline") ?? tried.material_id;
  const shared = table.columns.filter((column) => !column.mixed && !column.rated && tried.cells[column.key] && table.materials.filter((one) => one.cells[column.key]?.value).length > 2).map((one) => one.key);
  const weightOf = (key: string) => Number(query.get(key) ?? (shared.slice(0, 3).includes(key) ? 1 : 0));
  const weights = table.columns.map((column) => ({ property: column.key, weight: weightOf(column.key) }));
  const given = { weights, baseline_id: baseline, confirmed };
  const index = useQuery<Schemas["IndexView"], ApiError>({ queryKey: ["property-index", given], queryFn: () => body(POST("/api/properties/index", { body: given })), enabled: weights.some((one) => one.weight > 0), placeholderData: keepPreviousData, retry: false });
  const set = (key: string, value: string) =>
    setQuery(
      (held) => {
        held.set(key, value);
        return held;
      },
      { replace: true },
    );
  const result = index.error ? undefined : index.data?.result;
  const most = Math.max(...(result?.ranking.map((one) => one.index) ?? [100]));
  return (
    <section className="panel" aria-label="Weighted index">
      <h2>One number, and what it hangs on</h2>
      <p className="text-secondary">A weighted mean of ratios to the baseline, which has 100. One number hides trade-offs: read it beside the table, never instead of it.</p>
      <div className="row g-3">
        <div className="col-lg-6">
          <Choice label="Baseline" value={baseline} onChange={(id) => set("baseline", id)} error={index.error?.fields.baseline_id} options={table.materials.map((one) => [one.material_id, one.material])} />
          <div className="weights mt-3">
            {table.columns.map((column) => (
              <WeightRow key={column.key} column={column} weight={weightOf(column.key)} onWeight={(weight) => set(column.key, String(weight))} />
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
          {result && (
            <>
              <ol className="list-unstyled">
                {result.ranking.map((one) => (
                  <li key={one.name} className="mb-2">
                    <div className="d-flex">
                      <b className="me-auto">{one.name}</b>
                      <span className="num">{one.index.toFixed(0)}</span>
                    </div>
                    <div className="rank-bar" style={{ width: `${(100 * one.index) / most}%` }} />
                    <small className="text-secondary">{one.shares.filter((share) => Math.abs(share.points) >= 0.5).map((share) => `${share.name} ${share.ratio >= 1 ? "×" : "×"}${THIN}${share.ratio.toFixed(2)}`).join(" · ")}</small>
                  </li>
                ))}
              </ol>
              {result.flips.length > 0 && (
                <p className="small mb-2">
                  The lead turns{" "}
                  {result.flips.map((flip, at) => (
                    <span key={flip.criterion}>
                      {at > 0 && ", "}
                      to {flip.to} when {flip.criterion.split(",")[0]!.toLowerCase()} weighs {flip.at_weight.toFixed(1)} instead of {flip.weight}
                    </span>
                  ))}
                  .
                </p>
              )}
              {result.warnings.filter((one) => one.code !== "one-number").map((one) => (
                <p key={one.code} className="caution mb-2">
                  {one.message}
                </p>
              ))}
              {index.data!.mixed.map((one) => (
                <p key={one} className="caution mb-2">
                  {one}
                </p>
              ))}
              {index.data!.left_out.length > 0 && <p className="small">Not ranked, something is not tested: {index.data!.left_out.join(", ")}.</p>}
              {index.data!.costs.length > 0 && (
                <details className="small">
                  <summary>What a litre costs for each unit of a property</summary>
                  <ul>
                    {index.data!.costs.map((one) => (
                      <li key={`${one.material}${one.property}`}>
                        {one.material}, {one.property.toLowerCase()}: <span className="num">{one.per_unit.toPrecision(2)}</span> per {one.unit}
                      </li>
                    ))}
                  </ul>
                </details>
              )}
            </>
          )}
        </div>
      </div>
    </section>
  );
}

function WeightRow({ column, weight, onWeight }: { column: Schemas["Column"]; weight: number; onWeight: (weight: number) => void }) {
  return (
    <>
      <span>
        {column.name} <small className="text-secondary">{column.method_name.toLowerCase()}</small>
      </span>
      <Form.Range aria-label={`Weight of ${column.name}, ${column.method_name.toLowerCase()}`} min={0} max={5} step={0.5} value={weight} onChange={(event) => onWeight(Number(event.target.value))} />
      <span className="num text-end">{weight}</span>
    </>
  );
}
