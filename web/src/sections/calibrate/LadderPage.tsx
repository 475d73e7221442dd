import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { type ApiError, type Schemas, upload } from "../../shared/api/client";
import { refresh } from "../../shared/api/refresh";
import { takeTouched } from "../../shared/api/touched";
import { useGet } from "../../shared/api/useGet";
import { CouponDrawing, KIND_WORDS, type PlanFeature } from "../../shared/coupon/CouponDrawing";
import { PictureCrop } from "../../shared/coupon/PictureCrop";
import { EmptyState } from "../../shared/EmptyState";
import { FileField } from "../../shared/fields/FileField";
import { exposure, plural, size, THIN } from "../../shared/format";
import { JobBar } from "../../shared/job/JobBar";
import { type Job, useJob } from "../../shared/job/useJob";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { ScannerChoice } from "../reading/ScannerChoice";
import "./ladder.scss";

type View = Schemas["LadderView"];
type Ladder = Schemas["Ladder"];
/** What the job that reads a tray answers. */
type TrayResult = { coupons: { code: string; sure: number; asked: number }[]; others: string[] };
type Rung = Schemas["LadderCoupon"];
const STATES: Record<Rung["state"], string> = {
  confirmed: "confirmed",
  waiting: "waits to be confirmed",
  none: "no picture yet",
};

/** The ladder as pictures: coupons beside each other in order of exposure, one feature enlarged across all by a click. */
export default function LadderPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/calibrations/{calibration_id}/pictures", { params: { path: { calibration_id: id } } });
  return (
    <Loaded page query={query}>
      {(view) => (
        <>
          <PageHead
            title={`Pictures of ${view.code}`}
            sub={`${view.material} on ${view.printer}, in order of exposure`}
          >
            <Link className="btn btn-quiet" to={`/calibrate/${view.calibration_id}`}>
              The calibration
            </Link>
          </PageHead>
          {view.ladders.length ? (
            <>
              <ReadTray view={view} />
              <Ladders view={view} />
            </>
          ) : (
            <EmptyState purpose="Once coupons are printed, their pictures stand here beside each other: straightened, to one size, in one light." />
          )}
        </>
      )}
    </Loaded>
  );
}

function ReadTray({ view }: { view: View }) {
  const queries = useQueryClient();
  const [dpi, setDpi] = useState<number | null>(null);
  const [started, setStarted] = useState<string>();
  const { job, result, running, stop } = useJob<TrayResult>(started);
  const read = useMutation<Job, ApiError, File>({
    mutationFn: (file) =>
      upload(`/api/calibrations/${view.calibration_id}/trays${dpi ? `?scanner_dpi=${dpi}` : ""}`, "picture", file),
    onSuccess: (made) => {
      setStarted(made.id);
      void refresh(queries, takeTouched());
    },
  });
  return (
    <section className="panel mb-3" aria-label="Read a tray">
      <div className="d-flex flex-wrap gap-3 align-items-end">
        <FileField
          label="One picture of several coupons"
          accept="image/jpeg,image/png"
          disabled={running || read.isPending}
          onChoose={(file) => read.mutate(file)}
          error={read.error?.fields.picture ?? (job?.state === "failed" ? job.fields?.picture : undefined)}
        />
        <ScannerChoice value={dpi} onChange={setDpi} />
      </div>
      {dpi !== null && (
        <p className="caution mt-2 mb-0">Only washed, dried and cured coupons touch the scanner’s glass.</p>
      )}
      {read.error && !read.error.fields.picture && <Trouble error={read.error} className="mt-2" />}
      {job && running && <JobBar job={job} stop={stop} of="the tray" />}
      {result && <TrayRead result={result} />}
    </section>
  );
}

function TrayRead({ result }: { result: TrayResult }) {
  return (
    <div className="mt-2" role="status">
      {result.coupons.length > 0 && (
        <p className="mb-1">{plural(result.coupons.length, "coupon")} read. Nothing counts before it is confirmed:</p>
      )}
      <ul className="mb-0">
        {result.coupons.map((line) => (
          <li key={line.code}>
            <Link to={`/coupons/${line.code}`}>{line.code}</Link>: {plural(line.sure, "mark")} sure, {line.asked} asked
          </li>
        ))}
        {result.others.map((message) => (
          <li key={message}>{message}</li>
        ))}
      </ul>
    </div>
  );
}

function Ladders({ view }: { view: View }) {
  const [search, setSearch] = useSearchParams();
  const chosen = view.ladders[Number(search.get("drawing") ?? 0)] ?? view.ladders[0];
  if (!chosen) return null;
  return (
    <>
      {view.ladders.length > 1 && (
        <div className="btn-group mb-3" role="group" aria-label="Which drawing">
          {view.ladders.map((one, index) => (
            <Button
              key={`${one.title} ${index}`}
              variant={one === chosen ? "primary" : "quiet"}
              aria-pressed={one === chosen}
              onClick={() => setSearch({ drawing: String(index) }, { replace: true })}
            >
              {one.title}, {one.coupons.length}
            </Button>
          ))}
        </div>
      )}
      <LadderOf key={chosen.coupons[0]?.code} ladder={chosen} step={view.exposure_step_s} />
    </>
  );
}

function LadderOf({ ladder, step }: { ladder: Ladder; step: number }) {
  const [focus, setFocus] = useState<string | null>(null);
  const features = ladder.plan.features;
  const feature = features.find((one) => one.key === focus);
  const kin = feature ? features.filter((one) => one.kind === feature.kind && one.side === feature.side) : [];
  const move = (by: number) => {
    const next = feature && kin[kin.indexOf(feature) + by];
    if (next) setFocus(next.key);
  };
  usePageKeys([
    { keys: "←", hotkey: "left", does: "the feature before it", run: () => move(-1) },
    { keys: "→", hotkey: "right", does: "the feature after it", run: () => move(1) },
    { keys: "Esc", hotkey: "escape", does: "whole coupons", run: () => setFocus(null) },
  ]);
  return (
    <section aria-label={`${ladder.title} in order of exposure`}>
      <div className="d-flex flex-wrap gap-2 align-items-center mb-2">
        {feature ? (
          <>
            <h2 className="m-0">{nameOf(feature)}</h2>
            <Button variant="quiet" disabled={kin[0] === feature} onClick={() => move(-1)}>
              One before
            </Button>
            <Button variant="quiet" disabled={kin.at(-1) === feature} onClick={() => move(1)}>
              One after
            </Button>
            <Button variant="quiet" onClick={() => setFocus(null)}>
              Whole coupons
            </Button>
          </>
        ) : (
          <p className="m-0">Click a wall, a slot or any other part to see it large on every coupon.</p>
        )}
      </div>
      <ol className={`ladder ${feature ? "large" : ""}`}>
        {ladder.coupons.map((coupon) => (
          <li key={coupon.code}>
            <p className="mb-1">
              <strong className="num">
                {exposure(coupon.exposure_s, step)}
                {THIN}s
              </strong>{" "}
              <Link className="num" to={`/coupons/${coupon.code}`}>
                {coupon.code}
              </Link>{" "}
              <span className="text-secondary">{STATES[coupon.state]}</span>
            </p>
            {coupon.picture_id === null ? (
              <Link className="missing" to={`/coupons/${coupon.code}`}>
                Read {coupon.code} from a picture
              </Link>
            ) : feature ? (
              <PictureCrop
                picture={pictureOf(coupon, coupon.picture_id)}
                plan={ladder.plan}
                place={feature.hit}
                roomMm={0.9}
                label={`${nameOf(feature)} of ${coupon.code}`}
              />
            ) : (
              <CouponDrawing
                plan={ladder.plan}
                states={{}}
                label={`Coupon ${coupon.code}`}
                picture={{ ...pictureOf(coupon, coupon.picture_id), unsure: NONE }}
                onTap={(one) => setFocus(one.key)}
              />
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

const NONE: ReadonlySet<string> = new Set();
const pictureOf = (coupon: Rung, pictureId: string) => ({
  href: `/api/pictures/${pictureId}/straight`,
  marginMm: coupon.margin_mm,
});

function nameOf(feature: PlanFeature): string {
  const where = feature.side ?? (feature.axis ? `along ${feature.axis.toUpperCase()}` : "");
  const word = KIND_WORDS[feature.kind].one;
  if (feature.kind === "vernier" || feature.kind === "taper")
    return word.replace(/^./, (letter) => letter.toUpperCase());
  return `${size(feature.size_mm)}${THIN}mm ${word} ${where}`.trim();
}
