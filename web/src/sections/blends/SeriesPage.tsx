import { useState } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { decimal, shareOf } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { TrendPlot } from "../../shared/plot/TrendPlot";
import { ResponsePlot } from "../../shared/plot/ResponsePlot";
import { StateMark } from "../../shared/StateMark";
import { Trouble } from "../../shared/Trouble";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";

/** One series: property against fraction with its band, the fractions that meet the brief, and the next one to try. */
export default function SeriesPage() {
  const { code = "" } = useParams();
  const series = useGet("/api/blend-series/{series_id}", { params: { path: { series_id: code } } });
  return (
    <Loaded page query={series}>
      {(held) => <Page series={held} />}
    </Loaded>
  );
}

function Page({ series }: { series: Schemas["SeriesView"] }) {
  const [percent, setPercent] = useState<number | null>(null);
  const add = useSend(
    (fraction: number, headers) =>
      body(
        POST("/api/blend-series/{series_id}/fractions", {
          params: { path: { series_id: series.id } },
          body: { fraction, forbidden_reason: null },
          headers,
        }),
      ),
    () => setPercent(null),
  );
  const response = series.response;
  const best = response?.best_fraction ?? null;
  return (
    <>
      <PageHead
        title={series.name}
        sub={`${series.additive} in ${series.base}, up to ${100 * series.max_fraction} %${series.brief ? ` · for ${series.brief}` : ""}`}
      >
        {series.chosen && (
          <Link
            className="btn btn-primary"
            to={
              series.chosen.sets.length
                ? `/sets/${series.chosen.sets[0]}`
                : `/calibrate/new?material=${series.chosen.material_id}`
            }
          >
            {series.chosen.sets.length ? `Open ${series.chosen.sets[0]}` : "Calibrate"} ·{" "}
            {shareOf(series.chosen.fraction)}
          </Link>
        )}
        {!series.chosen && best !== null && (
          <Button disabled={add.isPending} onClick={() => add.mutate(Math.round(1000 * best) / 1000)}>
            Make {shareOf(best)}
          </Button>
        )}
      </PageHead>
      <p className={`key-words ${response && response.best_fraction !== null ? "passed" : ""}`} role="status">
        {series.words}
      </p>
      <div className="two-columns">
        <div className="d-grid gap-3">
          <Plots series={series} />
          {response?.warnings.map((one) => (
            <p key={one.code} className="caution mb-0">
              {one.message}
            </p>
          ))}
        </div>
        <aside className="panel" aria-label="Fractions">
          <h2>Fractions</h2>
          <Fractions series={series} />
          {series.suggested.length > 0 && (
            <>
              <p className="mb-1">
                {response ? "The fraction that would settle most, then the gaps:" : "Spread over the range:"}
              </p>
              <div className="d-flex flex-wrap gap-2 mb-3">
                {series.suggested.map((one) => (
                  <Button key={one} variant="quiet" disabled={add.isPending} onClick={() => add.mutate(one)}>
                    Add {shareOf(one)}
                  </Button>
                ))}
              </div>
            </>
          )}
          {series.replicate !== null && (
            <p>More specimens at {shareOf(series.replicate)} would narrow the edge most.</p>
          )}
          <div className="d-flex gap-2 align-items-end">
            <NumberField
              label="Another share"
              unit="%"
              value={percent}
              onChange={setPercent}
              error={add.error?.fields.fraction}
            />
            <Button
              variant="quiet"
              disabled={!percent || add.isPending}
              onClick={() => percent && add.mutate(percent / 100)}
            >
              Add
            </Button>
          </div>
          <Trouble error={add.error && !add.error.fields.fraction ? add.error : null} className="mt-2" />
          <p className="mt-3 mb-0">
            <Link
              className="text-decoration-underline"
              to={`/test/new?${series.brief_id ? `brief=${series.brief_id}&` : ""}${series.members.map((one) => `material=${one.material_id}`).join("&")}`}
            >
              Plan a test of these
            </Link>
          </p>
        </aside>
      </div>
    </>
  );
}

/** Every property that was tried against the share, and what it costs. */
function Plots({ series }: { series: Schemas["SeriesView"] }) {
  const priced = series.members.filter((one) => one.price_per_l !== null);
  return (
    <>
      {series.properties
        .filter((one) => one.points > 1)
        .map((one) => (
          <section key={one.key} className="panel" aria-label={one.name}>
            <h2>{one.name}</h2>
            <ResponsePlot
              property={one}
              members={series.members}
              response={series.response}
              most={series.max_fraction}
            />
          </section>
        ))}
      {priced.length > 1 && (
        <section className="panel" aria-label="Price">
          <h2>Price per litre</h2>
          <TrendPlot
            name="Price"
            unit="/l"
            against="share"
            againstUnit="% by volume"
            points={priced.map((one) => ({
              x: 100 * one.fraction,
              values: [],
              centre: one.price_per_l,
              interval: null,
            }))}
          />
        </section>
      )}
    </>
  );
}

/** The fractions made so far, each a material of its own. */
function Fractions({ series }: { series: Schemas["SeriesView"] }) {
  return (
    <Table size="sm" aria-label="Fractions">
      <thead>
        <tr>
          <th className="text-end">Share</th>
          <th>Calibrated</th>
          <th className="text-end">Tested for</th>
          <th className="text-end">Price, /l</th>
        </tr>
      </thead>
      <tbody>
        {series.members.map((one) => (
          <tr key={one.material_id}>
            <td className="num text-end">
              <Link to={one.fraction === 0 ? `/materials/${one.material_id}` : `/blend/recipes/${one.material_id}`}>
                {shareOf(one.fraction)}
              </Link>
            </td>
            <td>
              {one.sets.length ? (
                <StateMark
                  name={one.set_state === "valid" ? "issued" : (one.set_state ?? "issued")}
                  word={one.sets[0]}
                />
              ) : (
                <Link to={`/calibrate/new?material=${one.material_id}`}>calibrate</Link>
              )}
            </td>
            <td className="num text-end">
              {series.properties.filter((held) => one.values[held.key]).length} of {series.properties.length}
            </td>
            <td className="num text-end">{one.price_per_l === null ? "" : decimal(one.price_per_l, 1)}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
