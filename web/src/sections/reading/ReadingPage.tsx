import { CouponDrawing } from "../../shared/coupon/CouponDrawing";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Trouble } from "../../shared/Trouble";
import { PageHead } from "../../app/PageHead";
import { VirtualPrint } from "../../shared/coupon/VirtualPrint";
import { FileLinks } from "../../shared/coupon/FileLinks";
import { exposure, moment, THIN, temperature } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import type { Coupon } from "./model";
import { ReadingForm } from "./ReadingForm";
import "./reading.scss";
import { useGet } from "../../shared/api/useGet";

export default function ReadingPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/coupons/{id_or_code}", { params: { path: { id_or_code: code } } });
  return (
    <Loaded page query={query}>
      {(coupon) => (
        <>
          <PageHead
            title={`Coupon ${coupon.code}, ${exposure(coupon.exposure_s, coupon.exposure_step_s)}${THIN}s`}
            sub={
              <>
                <Link to={`/calibrate/${coupon.calibration_id}`}>
                  {coupon.material} on {coupon.printer}, {coupon.layer_height_um}
                  {THIN}µm
                </Link>
                {` · ${coupon.calibration_code}`}
                {coupon.printed_at && ` · printed ${moment(coupon.printed_at)} by ${coupon.printed_by}`}
                {coupon.temp_c !== null && ` at ${temperature(coupon.temp_c)} (${coupon.temp_place})`}
              </>
            }
          >
            <Link className="btn btn-quiet" to={`/log/new?from=${coupon.code}`}>
              Print parts like it
            </Link>
            <Neighbour code={coupon.previous_code} word="Less light" />
            <Neighbour code={coupon.next_code} word="More light" />
          </PageHead>
          {coupon.status === "printed" ? (
            <ReadingForm key={`${coupon.id} ${coupon.latest_id}`} coupon={coupon} />
          ) : (
            <NotReadable coupon={coupon} />
          )}
        </>
      )}
    </Loaded>
  );
}

function Neighbour({ code, word }: { code: string | null; word: string }) {
  if (!code) return null;
  return (
    <Link className="btn btn-quiet" to={`/coupons/${code}`}>
      {word}: <span className="num">{code}</span>
    </Link>
  );
}

function NotReadable({ coupon }: { coupon: Coupon }) {
  return (
    <div className="reading">
      <div className="plan">
        <CouponDrawing
          plan={coupon.plan}
          states={{}}
          code={coupon.code}
          exposure={`${exposure(coupon.exposure_s, coupon.exposure_step_s)}s`}
        />
      </div>
      <aside className="panel entry">
        {coupon.status === "gone" ? (
          <Lost coupon={coupon} />
        ) : (
          <p className="caution">
            This coupon is not printed yet.{" "}
            {coupon.simulated
              ? "Print it here, then read it."
              : `Mark it as printed ${coupon.check_of ? `on the page of ${coupon.check_of}` : "in the calibration’s tray"}, then read it.`}
          </p>
        )}
        {coupon.status === "planned" && coupon.simulated && (
          <div className="mb-3">
            <VirtualPrint code={coupon.code} printId={coupon.print_id} underWay={coupon.job_id} />
          </div>
        )}
        {coupon.status === "planned" && (
          <>
            <h2>Files to print it</h2>
            <p className="text-secondary">Code and exposure are embossed, so nobody writes on it with a pen.</p>
            <div className="mb-3">
              <FileLinks
                name={`coupon ${coupon.code}`}
                href={(format) => `/api/coupons/${coupon.code}/file?format=${format}`}
              />
            </div>
          </>
        )}
        <Link
          className={`btn ${coupon.simulated && coupon.status === "planned" ? "btn-quiet" : "btn-primary"} w-100`}
          to={coupon.check_of ? `/sets/${coupon.check_of}` : `/calibrate/${coupon.calibration_id}`}
        >
          {coupon.check_of ? `To set ${coupon.check_of}` : "To the calibration"}
        </Link>
      </aside>
    </div>
  );
}

/** A coupon that was lost may turn up again, days later. */
function Lost({ coupon }: { coupon: Coupon }) {
  const say = useSay();
  const found = useSend(
    (_: null) => body(POST("/api/coupons/{id_or_code}/found", { params: { path: { id_or_code: coupon.code } } })),
    () => say(`${coupon.code} is found: it can be read.`),
  );
  return (
    <>
      <p className="trouble">Lost or destroyed: {coupon.gone_reason}. It cannot be read.</p>
      <Button
        className="w-100 mb-3"
        variant="outline-primary"
        disabled={found.isPending}
        onClick={() => found.mutate(null)}
      >
        It is found again
      </Button>
      <Trouble error={found.error} />
    </>
  );
}
