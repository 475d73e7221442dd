import { useState } from "react";
import Button from "react-bootstrap/Button";
import ProgressBar from "react-bootstrap/ProgressBar";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { day, plural, signed, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import { Notices } from "../calibrate/Notices";
import { StudyPlot } from "./StudyPlot";
import { MEASURES, type Study } from "./studies";
import "./practice.scss";

/** A study: who has read how much, and its result once everything is read. */
export default function StudyPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/gauge-studies/{id_or_code}", { params: { path: { id_or_code: code } } });
  return (
    <Loaded page query={query}>
      {(study) => <StudyOf study={study} />}
    </Loaded>
  );
}

function StudyOf({ study }: { study: Study }) {
  const [withdraws, setWithdraws] = useState(false);
  const withdraw = useSend(
    (reason: string) =>
      body(
        POST("/api/gauge-studies/{id_or_code}/withdraw", {
          params: { path: { id_or_code: study.code } },
          body: { reason },
        }),
      ),
    () => setWithdraws(false),
  );
  return (
    <>
      <PageHead
        title={`Gauge study ${study.code}`}
        sub={`${MEASURES[study.measure].name} · ${plural(study.coupons.length, "coupon")}, ${plural(study.repeats, "repeat")} · planned ${day(study.planned_at)} by ${study.initials}`}
      >
        {!study.withdrawn_at && (
          <Button variant="quiet" onClick={() => setWithdraws(true)}>
            Withdraw
          </Button>
        )}
      </PageHead>
      {study.withdrawn_at && (
        <p className="caution">
          Withdrawn on {day(study.withdrawn_at)}: {study.withdrawn_reason}
        </p>
      )}
      {study.note && <p>{study.note}</p>}
      <div className="practice-panels">{study.result ? <Result study={study} /> : <Progress study={study} />}</div>
      {withdraws && (
        <ReasonDialog
          title={`Withdraw ${study.code}?`}
          label="Why it no longer counts"
          action="Withdraw the study"
          saving={withdraw.isPending}
          error={withdraw.error}
          onClose={() => setWithdraws(false)}
          onSave={(reason) => withdraw.mutate(reason)}
        >
          <p>It stays on record. Windows are decided without it, and what it corrected is corrected no more.</p>
        </ReasonDialog>
      )}
    </>
  );
}

function Progress({ study }: { study: Study }) {
  const { initials } = useTechnician();
  const mine = study.readers.find((one) => one.name === initials);
  const byPicture = study.readers.find((one) => one.is_picture_reader);
  return (
    <section className="panel" aria-label="Who has read how much">
      <p>
        Each reader takes the coupons in an order of their own and sees nothing of what was read before. The result
        stands here once everybody has read everything.
      </p>
      <ul className="list-unstyled d-grid gap-2">
        {study.readers.map((one) => (
          <li key={one.reader}>
            <span className="d-flex justify-content-between">
              <span>{one.name}</span>
              <span className="num">
                {one.done} of {one.turns}
              </span>
            </span>
            <ProgressBar now={one.done} max={one.turns} aria-label={`${one.name} has read`} />
          </li>
        ))}
      </ul>
      {!study.withdrawn_at && (
        <div className="d-flex flex-wrap gap-2">
          {mine && mine.done < mine.turns && (
            <Link className="btn btn-primary" to={`/practice/studies/${study.code}/read`}>
              Read the next coupon as {initials}
            </Link>
          )}
          {byPicture && byPicture.done < byPicture.turns && (
            <Link className="btn btn-outline-primary" to={`/practice/studies/${study.code}/read?reader=picture`}>
              Give the picture reader its next picture
            </Link>
          )}
          {!mine && (
            <p className="mb-0">{initials ?? "Nobody"} takes no part. Change the initials, top right, to read.</p>
          )}
        </div>
      )}
    </section>
  );
}

function Result({ study }: { study: Study }) {
  const { result } = study;
  if (!result) return null;
  const um = (value: number) => `${value.toPrecision(2)}${THIN}µm`;
  const ends = (pair: [number, number]) => `${um(pair[0])} to ${um(pair[1])}`;
  const rows: [string, string, string][] = [
    ["One reader, one coupon, again", um(result.repeatability_sd), ends(result.repeatability_ci)],
    ["Between readers", um(result.reproducibility_sd), ""],
    ["The gauge, both together", um(result.gauge_sd), ends(result.gauge_ci)],
    ["Between coupons", um(result.part_sd), ""],
  ];
  return (
    <>
      <section className="panel" aria-label="Result">
        <h2>
          {result.distinct_categories >= 1000
            ? "Readers never differ"
            : `${plural(result.distinct_categories, "group")} of coupons can be told apart`}
        </h2>
        <Notices notices={result.warnings} />
        <div className="table-responsive">
          <table className="table" aria-label="Where the spread comes from">
            <thead>
              <tr>
                <th scope="col">Spread of edge growth</th>
                <th scope="col">Standard deviation</th>
                <th scope="col">95{THIN}% interval</th>
              </tr>
            </thead>
            <tbody>
              {rows.map(([name, sd, interval]) => (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td className="num">{sd}</td>
                  <td className="num">{interval}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <p>
          The gauge makes {result.gauge_pct.toFixed(0)}
          {THIN}% of the whole spread
          {result.tolerance_pct !== null && (
            <>
              {" "}
              and takes {result.tolerance_pct.toFixed(0)}
              {THIN}% of the tolerance of {study.tolerance_um}
              {THIN}µm
            </>
          )}
          .
        </p>
        <p className="mb-0">
          {study.counts
            ? "Windows are decided with it: the ends of the size lane are so much less sure, and say so."
            : study.withdrawn_at
              ? "It does not count."
              : study.measure === "edges"
                ? "A newer study counts in its place."
                : "The taper plug makes no lane, so windows are decided without it."}
        </p>
      </section>
      <section className="panel" aria-label="Readings by reader">
        <StudyPlot study={study} />
      </section>
      <Biases study={study} />
    </>
  );
}

/** Who reads too much or too little; what is shown can be taken off, when somebody asks for it. */
function Biases({ study }: { study: Study }) {
  const say = useSay();
  const correct = useSend(
    (reader: number, headers) =>
      body(
        POST("/api/gauge-studies/{id_or_code}/corrections", {
          params: { path: { id_or_code: study.code } },
          body: { reader },
          headers,
        }),
      ),
    () => say("Their sizes are corrected from now on, wherever windows are decided."),
  );
  const end = useSend((correction_id: string) =>
    body(POST("/api/reader-corrections/{correction_id}/end", { params: { path: { correction_id } } })),
  );
  return (
    <section className="panel" aria-label="Biases">
      <h2>Against the mean of all</h2>
      <Trouble error={correct.error ?? end.error} />
      <ul className="list-unstyled d-grid gap-2 mb-0">
        {study.result?.biases.map((bias, reader) => {
          const correction = study.corrections.find((one) => one.reader === bias.technician);
          return (
            <li key={bias.technician} className="d-flex flex-wrap gap-3 align-items-center">
              <strong>{bias.technician}</strong>
              <span className="num">
                {signed(bias.bias, 1)}
                {THIN}µm ({signed(bias.bias_ci[0], 1)} to {signed(bias.bias_ci[1], 1)})
              </span>
              <span>
                {bias.shown
                  ? bias.bias > 0
                    ? "reads edges as grown too far"
                    : "reads edges as grown too little"
                  : "no bias shown"}
              </span>
              {correction ? (
                <>
                  <span>
                    corrected for {signed(correction.bias_um, 1)}
                    {THIN}µm since {day(correction.begun_at)}
                  </span>
                  <Button variant="quiet" disabled={end.isPending} onClick={() => end.mutate(correction.id)}>
                    Correct no more
                  </Button>
                </>
              ) : (
                bias.shown &&
                study.measure === "edges" &&
                !study.withdrawn_at && (
                  <Button variant="quiet" disabled={correct.isPending} onClick={() => correct.mutate(reader)}>
                    Correct their edges by {signed(-bias.bias, 1)}
                    {THIN}µm
                  </Button>
                )
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
