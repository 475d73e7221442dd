import { Link, useParams } from "react-router";
import { type Schemas } from "../../shared/api/client";
import { day, millilitres, THIN, quantity, temperatures } from "../../shared/format";
import { KnownPage } from "../../shared/known/KnownPage";
import { perDegree } from "../../shared/known/perDegree";
import { SuccessOverTime } from "../../shared/plot/SuccessOverTime";
import { Loaded } from "../../shared/Loading";
import { ClaimsPanel } from "../earlier/ClaimsPanel";
import { useGet } from "../../shared/api/useGet";

type Page = Schemas["MaterialPage"];

/** Everything known of one material: its sets at every layer height on one strip, depth, temperature, bottles, events. */
export default function MaterialPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/materials/{material_id}/page", { params: { path: { material_id: id } } });
  return (
    <Loaded page query={query}>
      {(page) => (
        <KnownPage
          title={page.name}
          by="printer"
          sub={[page.maker, page.line, page.family, page.opacity !== page.family && page.opacity, page.colour]
            .filter(Boolean)
            .join(" · ")}
          links={
            <>
              <Link className="btn btn-quiet" to={`/calibrate/new?material=${id}`}>
                Calibrate
              </Link>
              <a className="btn btn-quiet d-inline-flex align-items-center" href={`/api/materials/${id}/file`} download>
                JSON
              </a>
            </>
          }
          on={{ material: { id, name: page.name, bottles: page.bottles } }}
          why={page.bottles.length ? undefined : "Add a bottle on the shelf first"}
          sets={page.sets}
          axis={page.axis_s ?? null}
          events={page.events}
          calibrations={page.campaigns}
          prints={page.prints}
          purpose="Note when a new lot is opened or dye is added: the sets it touches fall due or lapse by themselves."
        >
          <section className="panel" aria-label="Depth and temperature">
            <h2>Depth of cure</h2>
            <p>
              {page.curve.penetration_depth_mm !== null ? (
                <>
                  Penetration depth{" "}
                  <b className="num">
                    {(1000 * page.curve.penetration_depth_mm).toFixed(0)}
                    {THIN}µm
                  </b>
                  , from {page.curve.squares} squares.
                </>
              ) : (
                "No depth squares yet: the Depth step of a calibration measures them."
              )}
            </p>
            <h2>Temperature</h2>
            <p className="mb-0">
              <Effect page={page} />
            </p>
          </section>
          <Tested id={id} name={page.name} />
          <SuccessOverTime material={id} />
          <ClaimsPanel material={id} />
          <section className="panel" aria-label="Bottles">
            <h2>Bottles</h2>
            {page.bottles.length ? (
              <ul className="list-unstyled mb-0">
                {page.bottles.map((bottle) => (
                  <li key={bottle.id}>
                    <b>{bottle.code}</b>, lot {bottle.lot}: {millilitres(bottle.left_ml)} left
                    {bottle.best_before && `, best before ${day(bottle.best_before)}`}
                  </li>
                ))}
              </ul>
            ) : (
              <p className="text-secondary mb-0">None on the shelf.</p>
            )}
          </section>
        </KnownPage>
      )}
    </Loaded>
  );
}

/** What tests say of it: the newest result of each property. */
function Tested({ id, name }: { id: string; name: string }) {
  const table = useGet("/api/properties", { params: { query: { material_id: id } } });
  const blends = useGet(
    "/api/blends",
    { params: { query: { after: "", limit: 50, part_id: id } } },
    { select: (answer) => answer.items },
  );
  const earlier = useGet(
    "/api/materials/{material_id}/earlier-results",
    { params: { path: { material_id: id } } },
    { select: (answer) => answer.items },
  );
  const line = table.data?.materials[0];
  return (
    <section className="panel" aria-label="Tests">
      <h2>Tests</h2>
      {line ? (
        <ul className="list-unstyled mb-2">
          {table.data?.columns.map((column) => {
            const cell = line.cells[column.key];
            return (
              cell && (
                <li key={column.key}>
                  {column.name}:{" "}
                  <b className="num">
                    {cell.value === null ? "none broke" : quantity(cell.value, column.unit, cell.decimals)}
                  </b>{" "}
                  <span className="text-secondary">
                    n{THIN}={THIN}
                    {cell.n}
                    {cell.tried && `, at ${cell.tried}`}, <Link to={`/test/${cell.test_code}`}>{cell.test_code}</Link>
                  </span>
                </li>
              )
            );
          })}
        </ul>
      ) : (
        <p className="text-secondary mb-2">Nothing was tested yet.</p>
      )}
      {earlier.data && earlier.data.length > 0 && (
        <>
          <h3 className="fs-6">From before</h3>
          <ul className="list-unstyled mb-2" aria-label="Results from before">
            {earlier.data.map((one) => (
              <li key={one.property}>
                {one.name}: <b className="num">{one.words}</b>{" "}
                <span className="text-secondary">{one.tables.join(", ")}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <Link to={`/test/new?material=${id}`}>Test {name}</Link>
      {blends.data && blends.data.length > 0 && (
        <p className="mt-2 mb-0">
          Is in{" "}
          {blends.data.map((one, at) => (
            <span key={one.id}>
              {at > 0 && ", "}
              <Link className="text-decoration-underline" to={`/blend/recipes/${one.id}`}>
                {one.name}
              </Link>
            </span>
          ))}
          .
        </p>
      )}
    </section>
  );
}

function Effect({ page }: { page: Page }) {
  const effect = page.temperature;
  if (!effect) return <>{page.temperature_missing}</>;
  const { headline, rest } = perDegree(effect);
  return (
    <>
      <b>{headline}</b> {rest}, from {effect.n} sets between{" "}
      {temperatures(effect.fitted_range_c[0], effect.fitted_range_c[1], " and ")}.{" "}
      {effect.warnings.map((one) => one.message).join(" ")}
    </>
  );
}
