import Table from "react-bootstrap/Table";
import type { Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { THIN, plain } from "../../shared/format";
import { DotPlot } from "../../shared/plot/DotPlot";
import { TrendPlot } from "../../shared/plot/TrendPlot";
import "../../shared/table/table.scss";
import type { TestView } from "./model";
import { zip } from "../../shared/plot/scale";

type Result = Schemas["TestResult"];

/** What a test says: dots, means, bounds, differences in words, and what each group was made under. */
export function TestResults({ test, result }: { test: TestView; result: Result }) {
  if (result.properties.every((one) => one.batches.every((batch) => batch.n === 0)))
    return (
      <EmptyState
        purpose={`Results stand here as soon as specimens are read: every one as a dot, the mean with its interval, and what 9 in 10 parts ${result.properties[0]?.better === "lower" ? "stay under" : "reach"}.`}
      />
    );
  return (
    <>
      {result.trends.map((trend) => (
        <TrendPanel key={`${trend.material}${trend.property}${trend.against}`} trend={trend} result={result} />
      ))}
      {result.properties
        .filter((one) => one.batches.some((batch) => batch.n > 0))
        .map((one) => (
          <section key={one.key} className="panel" aria-label={one.name}>
            <h2>{one.name}</h2>
            <DotPlot result={one} />
            <p className="small text-secondary mb-2">
              {one.batches.some((batch) => batch.staircase)
                ? "Filled: broke. Hollow: survived. ◇ median with its interval."
                : `◇ mean with its 95 % interval${one.rated ? "" : "; the bracket is what 9 in 10 parts keep; hollow dots did not break"}.`}
            </p>
            <ul className="mb-2">
              {one.batches
                .filter((batch) => batch.n > 0)
                .map((batch) => (
                  <li key={batch.number}>
                    <b>{batch.name}:</b> {batch.words}
                    {batch.against_line && <>; {batch.against_line}</>}
                  </li>
                ))}
            </ul>
            {one.comparisons.length > 0 && (
              <ul className="mb-2 comparisons">
                {one.comparisons.map((found) => (
                  <li key={found.number}>
                    <b>{found.name}:</b> {found.words}.
                  </li>
                ))}
              </ul>
            )}
            <Said result={one} />
          </section>
        ))}
      <MadeUnder result={result} />
      <p className="small text-secondary">
        {test.method.source} Bounds: 90 % of parts of other prints, with 95 % confidence. This is no test for
        load-bearing safety parts, pressure, food or the body: those belong to licensed testing.
      </p>
    </>
  );
}

/** What must be known about a property: once for all the groups it concerns. */
function Said({ result }: { result: Schemas["PropertyResult"] }) {
  const groups = new Map<string, string[]>();
  for (const batch of result.batches)
    for (const text of batch.said) groups.set(text, [...(groups.get(text) ?? []), batch.name]);
  const read = result.batches.filter((batch) => batch.n > 0).length;
  const texts = [...groups].map(
    ([text, names]) => `${names.length > 1 && names.length === read ? "All groups" : names.join(", ")}: ${text}`,
  );
  return (
    <>
      {[...texts, ...result.warnings.map((one) => one.message)].map((text) => (
        <p key={text} className="caution mb-1">
          {text}
        </p>
      ))}
    </>
  );
}

function TrendPanel({ trend, result }: { trend: Schemas["Trend"]; result: Result }) {
  const property = result.properties.find((one) => one.key === trend.property);
  if (!property) return null;
  const points = zip(trend.numbers, trend.x).flatMap(([number, x]) => {
    const batch = property.batches.find((one) => one.number === number);
    if (!batch) return [];
    return {
      x,
      values: batch.dots.map((dot) => dot.value),
      centre: batch.centre,
      interval: batch.centre_ci,
    };
  });
  const { curve } = trend;
  return (
    <section className="panel" aria-label={`${trend.name} against ${trend.against}`}>
      <h2>
        {trend.name} against {trend.against}, {trend.material}
      </h2>
      <TrendPlot
        name={trend.name}
        unit={trend.unit}
        against={trend.against}
        againstUnit={trend.against_unit}
        points={points}
        curve={trend.line}
      />
      <p className="mb-1">{trend.words}.</p>
      {curve?.warnings.map((one) => (
        <p key={one.code} className="caution mb-1">
          {one.message}
        </p>
      ))}
    </section>
  );
}

function MadeUnder({ result }: { result: Result }) {
  const hours = (age: [number, number] | null) =>
    age === null
      ? ""
      : age[1] - age[0] < 1
        ? `${age[0].toFixed(0)}${THIN}h`
        : `${age[0].toFixed(0)}–${age[1].toFixed(0)}${THIN}h`;
  return (
    <section className="panel p-0">
      <div className="data-table px-2">
        <Table aria-label="Made and tried under">
          <thead>
            <tr>
              <th>Group</th>
              <th className="number">n</th>
              <th className="number">Prints</th>
              <th>Set</th>
              <th className="number">Exposure</th>
              <th>Finish route</th>
              <th className="number">Cure</th>
              <th className="number">Age at the test</th>
              <th>On the plate</th>
            </tr>
          </thead>
          <tbody>
            {result.made_under.map((one) => (
              <tr key={one.number}>
                <td data-name="Group" className="wide">
                  <b>{one.name}</b>
                </td>
                <td data-name="n" className="number num">
                  {one.n}
                </td>
                <td data-name="Prints" className="number num">
                  {one.prints ?? "bought in"}
                </td>
                <td data-name="Set" className="num">
                  {one.set_code ?? "none"}
                </td>
                <td data-name="Exposure" className="number num">
                  {one.exposure_s === null ? "" : `${plain(one.exposure_s)}${THIN}s`}
                </td>
                <td data-name="Finish route">{one.route ?? ""}</td>
                <td data-name="Cure" className="number num">
                  {one.cure_min === null ? "" : `${one.cure_min}${THIN}min`}
                </td>
                <td data-name="Age" className="number num">
                  {hours(one.age_h)}
                </td>
                <td data-name="On the plate">{[one.orientation, one.supports].filter(Boolean).join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {result.warnings.map((one) => (
        <p key={one.code} className="caution m-2">
          {one.message}
        </p>
      ))}
    </section>
  );
}
