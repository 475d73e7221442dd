import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import {
  duration,
  exposure,
  millilitres,
  moment,
  plain,
  plural,
  quantity,
  temperature,
  temperatures,
  THIN,
} from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { AskWhy } from "../trace/AskWhy";
import { PrintPhotos } from "./PrintPhotos";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { placedOf } from "./ReportFields";
import { PlateTap } from "./PlateTap";
import { OutcomeMark } from "./OutcomeMark";
import { SymptomDrawing } from "./SymptomDrawing";
import "./log.scss";

type Page = Schemas["PrintPage"];

/** One print: its conditions beside what its set is meant for, how it came out, and what followed. */
export default function PrintPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/prints/{id_or_code}", { params: { path: { id_or_code: code } } });
  return (
    <Loaded query={query} page>
      {(page) => <OnePrint page={page} />}
    </Loaded>
  );
}

function OnePrint({ page }: { page: Page }) {
  const say = useSay();
  const [withdrawing, setWithdrawing] = useState(false);
  const path = { print_id: page.id };
  const restore = useSend(
    (_: null) => body(POST("/api/prints/{print_id}/restore", { params: { path } })),
    () => say(`${page.code} counts again.`),
  );
  const withdraw = useSend(
    (reason: string) => body(POST("/api/prints/{print_id}/withdraw", { params: { path }, body: { reason } })),
    () => {
      setWithdrawing(false);
      say(`${page.code} is withdrawn.`, () => restore.mutate(null));
    },
  );
  const runs = page.of_parts && page.status === "planned";
  return (
    <>
      <PageHead title={page.code} sub={[page.material, page.printer].filter(Boolean).join(" on ")}>
        {runs && (
          <Link className="btn btn-primary" to={`/log/${page.code}/finish`}>
            How did it come out?
          </Link>
        )}
        {page.status === "printed" && page.outcome !== null && page.outcome !== "whole" && <AskWhy code={page.code} />}
        {page.of_parts && (
          <Link className="btn btn-quiet" to={`/log/new?from=${page.code}`}>
            Print it again
          </Link>
        )}
        {page.of_parts && page.status === "printed" && (
          <Link className="btn btn-quiet" to={`/log/${page.code}/finish?correct`}>
            Correct…
          </Link>
        )}
        {page.of_parts && page.status !== "cancelled" && (
          <Button variant="quiet" onClick={() => setWithdrawing(true)}>
            Withdraw…
          </Button>
        )}
        {page.of_parts && page.status === "cancelled" && (
          <Button variant="quiet" onClick={() => restore.mutate(null)}>
            Let it count again
          </Button>
        )}
      </PageHead>
      {page.status === "cancelled" && (
        <p className="caution">
          Withdrawn{page.reports[0]?.withdrawn_reason && `: ${page.reports[0].withdrawn_reason}`}. It counts nowhere.
        </p>
      )}
      <div className="print-page">
        <section className="panel" aria-label="How it came out">
          <h2>How it came out</h2>
          {page.outcome ? <OutcomeMark outcome={page.outcome} /> : <p>{runs ? "It runs." : "Not noted."}</p>}
          <ul className="plain-list">
            {page.parts.map((one) => (
              <li key={one.id}>
                {one.whole !== null && !runs ? (
                  <b className="num">
                    {one.whole} of {one.printed}
                  </b>
                ) : (
                  <b className="num">{one.printed}</b>
                )}{" "}
                {one.name}
                {one.place && ` (${one.place})`}
              </li>
            ))}
            {page.coupons > 0 && <li>{plural(page.coupons, "coupon")}</li>}
            {page.specimens > 0 && <li>{plural(page.specimens, "specimen")}</li>}
          </ul>
          {page.symptoms.length > 0 && (
            <ul className="tiles seen" aria-label="What was seen">
              {page.symptoms.map((one) => (
                <li key={one.key}>
                  <SymptomDrawing of={one.key} />
                  {one.name}
                </li>
              ))}
            </ul>
          )}
          {page.seen && <p>{page.seen}</p>}
          <Plate page={page} />
        </section>
        <section className="panel" aria-label="Conditions">
          <h2>Conditions</h2>
          <Conditions page={page} />
        </section>
        <section className="panel" aria-label="Photos">
          <h2>Photos</h2>
          <PrintPhotos page={page} />
        </section>
        {page.of_parts && (
          <section className="panel" aria-label="Reports">
            <h2>Reports</h2>
            {page.reports.length ? (
              <ol className="plain-list">
                {page.reports.map((one) => (
                  <li key={one.id}>
                    <b>{one.outcome}</b>, {one.initials}, {moment(one.recorded_at)}
                    {one.reason && <span className="d-block">Corrected: {one.reason}</span>}
                    {one.withdrawn_reason && <span className="d-block">Withdrawn: {one.withdrawn_reason}</span>}
                  </li>
                ))}
              </ol>
            ) : (
              <p className="text-secondary mb-0">Nobody said yet how it came out.</p>
            )}
          </section>
        )}
        <section className="panel" aria-label="What followed">
          <h2>What followed on {page.printer}</h2>
          {page.followed.length ? (
            <ul className="plain-list">
              {page.followed.map((one) => (
                <li key={one.code}>
                  <Link to={`/log/${one.code}`}>{one.code}</Link> {moment(one.printed_at)}
                  {one.material && `, ${one.material}`}
                  {one.exposure_s !== null && `, ${plain(one.exposure_s)}${THIN}s`}{" "}
                  {one.outcome && <OutcomeMark outcome={one.outcome} />}
                </li>
              ))}
            </ul>
          ) : (
            <p className="text-secondary mb-0">Nothing yet.</p>
          )}
        </section>
      </div>
      {withdrawing && (
        <ReasonDialog
          title={`Withdraw ${page.code}`}
          label="Why"
          action="Withdraw"
          saving={withdraw.isPending}
          error={withdraw.error}
          onSave={(reason) => withdraw.mutate(reason)}
          onClose={() => setWithdrawing(false)}
        >
          Bottle, screen hours, vat and success follow. It can be brought back.
        </ReasonDialog>
      )}
    </>
  );
}

function Plate({ page }: { page: Page }) {
  const printer = useGet(
    "/api/printers/{row_id}",
    { params: { path: { row_id: page.printer_id } } },
    { staleTime: Infinity },
  ).data;
  if (!printer || !page.parts.some((one) => one.x_mm !== null)) return null;
  return <PlateTap width_mm={printer.plate_x_mm} height_mm={printer.plate_y_mm} parts={placedOf(page.parts)} />;
}

function Conditions({ page }: { page: Page }) {
  const limits = page.set_limits;
  const outside = limits?.side != null;
  const settings = page.settings as Schemas["Settings"] | null;
  const rows: [string, React.ReactNode][] = [
    [
      "With",
      page.set_code ? (
        <Link to={`/sets/${page.set_code}`}>{page.set_code}</Link>
      ) : page.calibration_id ? (
        <Link to={`/calibrate/${page.calibration_id}`}>{page.calibration_code}</Link>
      ) : (
        page.settings_note || "trial settings"
      ),
    ],
    ["Exposure", page.exposure_s !== null && `${exposure(page.exposure_s)}${THIN}s`],
    ["Layer", page.layer_height_um !== null && `${page.layer_height_um}${THIN}µm`],
    ["Lift", settings && `${plain(settings.lift_mm)}${THIN}mm, ${plain(settings.lift_mm_min)}${THIN}mm/min`],
    ["Base", settings && `${settings.base_layers} × ${plain(settings.base_exposure_s)}${THIN}s`],
    ["Rest before exposure", settings && `${plain(settings.rest_before_s)}${THIN}s`],
    ["Support tip", page.tip_mm !== null && quantity(page.tip_mm, "mm", 2)],
    [
      "At the start",
      page.temp_c !== null && (
        <span className={outside ? "is-outside" : ""}>
          {temperature(page.temp_c)} {page.temp_place}
          {limits?.temp_low_c != null &&
            limits.temp_high_c !== null &&
            `, ${outside ? "outside" : "inside"} ${temperatures(limits.temp_low_c, limits.temp_high_c)}`}
          {page.outside_band && `: ${page.outside_band.reason}`}
        </span>
      ),
    ],
    ["At the end", page.temp_end_c !== null && temperature(page.temp_end_c)],
    ["Started", page.started_at && moment(page.started_at)],
    ["Ended", page.printed_at && moment(page.printed_at)],
    ["It took", page.duration_s > 0 && duration(page.duration_s)],
    ["Finish", finishedWords(page.reports[0])],
    ["Resin", page.volume_ml > 0 && millilitres(page.volume_ml)],
    ["Out of", page.bottle && <Link to={`/bottles/${page.bottle}`}>{page.bottle}</Link>],
    [page.imported ? "Imported from" : "Started from", page.started_from],
  ];
  return (
    <dl className="facts mb-0">
      {rows
        .filter(([, value]) => value)
        .map(([name, value]) => (
          <div key={name} className="d-contents">
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
    </dl>
  );
}

/** How long it dried and was cured, where somebody noted it. */
function finishedWords(report: Schemas["Report"] | undefined): string | null {
  if (!report) return null;
  const words = [
    report.dry_min !== null && `dried ${report.dry_min}${THIN}min`,
    report.cure_min !== null && `cured ${report.cure_min}${THIN}min`,
  ];
  return words.filter(Boolean).join(", ") || null;
}
