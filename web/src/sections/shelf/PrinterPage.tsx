import { Link, useParams } from "react-router";
import { type Schemas } from "../../shared/api/client";
import { day, decimal, plural, screenHours, THIN } from "../../shared/format";
import { KnownPage } from "../../shared/known/KnownPage";
import { SuccessOverTime } from "../../shared/plot/SuccessOverTime";
import { Loaded } from "../../shared/Loading";
import { ControlPlot } from "../../shared/plot/ControlPlot";
import { Limits } from "../../shared/known/Limits";
import { useGet } from "../../shared/api/useGet";

type Page = Schemas["PrinterPage"];

/** Everything known of one printer: its sets, its light over time, what happened to it. */
export default function PrinterPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/printers/{printer_id}/page", { params: { path: { printer_id: id } } });
  return (
    <Loaded page query={query}>
      {(page) => (
        <KnownPage
          title={page.printer.name}
          by="material"
          sub={`${page.printer.light_engine} · ${page.printer.pixel_um} µm · ${screenHours(page.printer.screen_hours)} screen hours`}
          links={
            <>
              <Link className="btn btn-quiet" to={`/shelf/printers/${id}/plate`}>
                Plate
              </Link>
              <Link className="btn btn-quiet" to={`/blend/vat/${id}`}>
                Vat
              </Link>
            </>
          }
          on={{ printer: page.printer }}
          sets={page.sets}
          axis={page.axis_s ?? null}
          events={page.events}
          calibrations={page.campaigns}
          prints={page.prints}
          purpose="Note when the screen, film or firmware changes: the sets it touches fall due or lapse by themselves."
          below={
            <section className="panel" aria-label="Limits">
              <h2>When sets fall due, in this shop</h2>
              <Limits />
            </section>
          }
        >
          <section className="panel" aria-label="Control chart">
            <h2>Light over time</h2>
            <Chart page={page} />
          </section>
          <Wear printer={id} />
          <SuccessOverTime printer={id} />
          <section className="panel" aria-label="Plate">
            <h2>Plate</h2>
            <p className="mb-0">
              {page.map_at ? `Light map by ${page.map_source}, ${day(page.map_at)}.` : "No light map yet."}{" "}
              {page.defects.length
                ? `${plural(page.defects.length, "known mark")}: ${page.defects.map((one) => one.note).join("; ")}.`
                : "No known marks."}{" "}
              <Link to={`/shelf/printers/${id}/plate`}>Open the plate</Link>
            </p>
          </section>
        </KnownPage>
      )}
    </Loaded>
  );
}

/** What is reckoned from a drift is known to fifty hours at best. */
const aboutHours = (hours: number): string => screenHours(50 * Math.round(hours / 50));

/** What was printed since film, screen and plate were renewed, each leading to those prints. */
function Wear({ printer }: { printer: string }) {
  const worn = useGet(
    "/api/printers/{row_id}/wear",
    { params: { path: { row_id: printer } } },
    { select: (answer) => answer.items },
  );
  if (!worn.data?.length) return null;
  return (
    <section className="panel" aria-label="Wear">
      <h2>Wear</h2>
      <ul className="plain-list">
        {worn.data.map((one) => (
          <li key={one.event_id}>
            {one.name}, {day(one.since)}:{" "}
            <Link to={`/log?printer=${printer}&film=${one.event_id}`}>{plural(one.prints, "print")}</Link>,{" "}
            {decimal(one.litres, 1)}
            {THIN}l since
          </li>
        ))}
      </ul>
    </section>
  );
}

function Chart({ page }: { page: Page }) {
  const { chart: view } = page;
  const { chart } = view;
  if (!view.checks.length)
    return (
      <p className="text-secondary mb-0">
        Check coupons at issued exposures show the screen fading. Open a set and print one; from {view.enough} on there
        is a chart.
      </p>
    );
  const drift = chart?.drift;
  return (
    <>
      <ControlPlot view={view} />
      {!chart && (
        <p className="mb-1">
          {plural(view.checks.length, "check coupon")} so far; from {view.enough} on limits are drawn.
        </p>
      )}
      {drift && (
        <p className="mb-1">
          {drift.shown ? (
            <>
              Drifts by{" "}
              <b className="num">
                {decimal(drift.per_100_hours, 1)}
                {THIN}%
              </b>{" "}
              of the dose per hundred hours.{" "}
              {drift.leaves_at_hours !== null && (
                <>
                  Leaves the window of {view.window_of} at about{" "}
                  <b className="num">
                    {aboutHours(drift.leaves_at_hours)}
                    {THIN}h
                  </b>
                  {drift.leaves_from_hours !== null &&
                    `, from ${aboutHours(drift.leaves_from_hours)} h on at the earliest`}
                  .
                </>
              )}
            </>
          ) : (
            "No drift is shown so far."
          )}
        </p>
      )}
      {chart && (["one value", "lasting change"] as const).map((kind) => <Alarms key={kind} kind={kind} view={view} />)}
      {chart && (
        <p className="small text-secondary mb-0">
          A printer that does not change raises an alarm once in about {chart.between_false_alarms} check coupons.
        </p>
      )}
      {chart?.warnings.map((one) => (
        <p key={one.code} className="small text-secondary mb-0">
          {one.message}
        </p>
      ))}
    </>
  );
}

/** Check coupons at which the printer no longer looked as it was. */
function Alarms({ kind, view }: { kind: "one value" | "lasting change"; view: Schemas["ChartView"] }) {
  const read = view.checks.filter((one) => one.off_pct !== null);
  const coupons = (view.chart?.alarms ?? []).filter((one) => one.kind === kind).map((one) => read[one.index]?.coupon);
  if (!coupons.length) return null;
  return (
    <p className="trouble mb-1">
      {kind === "one value"
        ? `${plural(coupons.length, "check coupon stands", "check coupons stand")} apart from those before: ${coupons.join(", ")}.`
        : `Something has shifted, and it shows since ${coupons.join(", ")}.`}
    </p>
  );
}
