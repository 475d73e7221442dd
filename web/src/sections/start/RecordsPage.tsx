import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useGet } from "../../shared/api/useGet";
import { Choice } from "../../shared/fields/Choice";
import { CouponSheet } from "../../shared/table/CouponSheet";
import "../../shared/start/start.scss";

/** What can be brought in, and where: old settings and records, a bundle, another workshop's set, readings, a temperature log. */
export default function RecordsPage() {
  return (
    <>
      <PageHead title="Bring my records" sub="each is checked and shown before anything is kept" />
      <div className="three-ways">
        <section className="panel" aria-label="Settings and records of before">
          <h2>Settings that work, and what you noted of them</h2>
          <p>
            A spreadsheet of exposures, test results, prints, pours or temperatures. Settings stand on the Board at
            once, as in use and not shown.
          </p>
          <div className="d-flex flex-wrap gap-2">
            <Link className="btn btn-primary" to="/shelf/in-use/table">
              Choose or paste a table
            </Link>
            <Link className="btn btn-quiet" to="/shelf/in-use/new">
              Enter one by hand
            </Link>
          </div>
        </section>
        <section className="panel" aria-label="A bundle">
          <h2>A bundle of another Setback</h2>
          <p>
            Everything a lab exported: materials, printers, coupons, readings, sets. A preview says what is new here.
          </p>
          <Link className="btn btn-quiet" to="/qualify/open-formats">
            Choose a bundle
          </Link>
        </section>
        <section className="panel" aria-label="A set of another workshop">
          <h2>A set of another workshop</h2>
          <p>The file of a card that was issued elsewhere. It is carried over to your printer with its uncertainty.</p>
          <Link className="btn btn-quiet" to="/shelf/in-use/borrow">
            Choose a set
          </Link>
        </section>
        <ReadingsFromSheet />
        <section className="panel" aria-label="A temperature log">
          <h2>A temperature logger&apos;s file</h2>
          <p>
            Any table with a time and a temperature. Its columns are found, or named by you, and drawn before they
            count.
          </p>
          <Link className="btn btn-quiet" to="/climate/import">
            Choose a log
          </Link>
        </section>
      </div>
    </>
  );
}

/** Readings belong to coupons that were planned here: which calibration, then the spreadsheet. */
function ReadingsFromSheet() {
  const open = useGet(
    "/api/calibrations",
    { params: { query: { before: "", limit: 50 } } },
    { select: (answer) => answer.items.filter((one) => one.closed_at === null) },
  );
  const [chosen, setChosen] = useState("");
  const [reading, setReading] = useState(false);
  const id = chosen || (open.data?.length === 1 ? (open.data[0]?.id ?? "") : "");
  const calibration = open.data?.find((one) => one.id === id);
  return (
    <section className="panel" aria-label="Readings from a spreadsheet">
      <h2>Readings from a spreadsheet</h2>
      {open.data?.length === 0 ? (
        <>
          <p>
            Readings belong to coupons with a code. Start a calibration and plan its coupons; the page then gives a
            filled template with their codes.
          </p>
          <Link className="btn btn-quiet" to="/calibrate/new">
            Start a calibration
          </Link>
        </>
      ) : (
        <>
          <p>
            One row for each coupon and a column for each feature, or one row for each feature. Paste or choose a file.
          </p>
          <Choice
            label="Of which calibration"
            value={id}
            onChange={setChosen}
            options={(open.data ?? []).map((one) => [one.id, `${one.code}: ${one.material} on ${one.printer}`])}
          />
          <Button variant="quiet" className="mt-3" disabled={!id} onClick={() => setReading(true)}>
            Choose or paste a table
          </Button>
        </>
      )}
      {reading && calibration && <CouponSheet calibration={calibration} onClose={() => setReading(false)} />}
    </section>
  );
}
