import { Fragment } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { RequirementPlot } from "../../shared/plot/RequirementPlot";
import { StateMark } from "../../shared/StateMark";
import { csv, save } from "../../shared/table/csv";
import "./qualify.scss";
import { useGet } from "../../shared/api/useGet";

type Standing = Schemas["BriefStanding"];

/** Which set for this brief: candidates against requirements, each a small plot, and what each fails on. */
export default function CandidatesPage() {
  const { brief = "" } = useParams();
  const query = useGet("/api/qualify/{brief}", { params: { path: { brief } } });
  const held = query.data;
  return (
    <>
      <PageHead
        title={held ? held.brief.name : "Brief"}
        sub={
          held && `${held.brief.code}, version ${held.brief.version} · ${plural(held.candidates.length, "candidate")}`
        }
      >
        {held && (
          <Button variant="quiet" onClick={() => save(`${held.brief.code}.csv`, table(held))}>
            Export CSV
          </Button>
        )}
        {held && (
          <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/test/briefs?edit=${held.brief.id}`}>
            Change the brief…
          </Link>
        )}
      </PageHead>
      <Loaded query={query}>
        {(standing) => (
          <>
            {standing.brief.use && <p className="text-secondary">{standing.brief.use}</p>}
            {standing.candidates.length ? (
              <Matrix standing={standing} />
            ) : (
              <EmptyState purpose="Issued sets stand here side by side against the brief.">
                <Link className="btn btn-primary" to="/calibrate/new">
                  New calibration
                </Link>
              </EmptyState>
            )}
          </>
        )}
      </Loaded>
    </>
  );
}

function Matrix({ standing }: { standing: Standing }) {
  const { brief, candidates } = standing;
  return (
    <div className="panel p-0 table-responsive">
      <Table className="candidates mb-0" aria-label={`Candidates for ${brief.name}`}>
        <thead>
          <tr>
            <th>Requirement</th>
            {candidates.map((one) => (
              <th key={one.set_id} className={one.cheapest ? "cheapest" : ""}>
                <Link to={`/qualify/${brief.code}/${one.set_code}`}>{one.material}</Link>
                <small className="d-block text-secondary fw-normal">
                  {one.printer}, {one.layer_height_um}
                  {THIN}µm, <span className="num">{one.set_code}</span>
                </small>
                <StateMark name={one.verdict} />
                <small className="d-block fw-normal">
                  {one.price_per_l === null ? "no price" : `${one.price_per_l.toFixed(0)} per litre`}
                  {one.cheapest && ", the cheapest that qualifies"}
                </small>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {brief.requirements.map((demand, index) => (
            <tr key={`${demand.property} ${index}`}>
              <th scope="row">
                {demand.name}
                <small className="d-block text-secondary fw-normal">
                  {demand.kind} be {demand.asked}
                </small>
              </th>
              {candidates.map((one) => (
                <td key={one.set_id}>
                  {one.judged.slice(index, index + 1).map((judged) => (
                    <Fragment key={index}>
                      <StateMark name={judged.status} />
                      <RequirementPlot small judged={judged} />
                    </Fragment>
                  ))}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row">Fails on</th>
            {candidates.map((one) => (
              <td key={one.set_id} className="small">
                {one.reasons.length ? one.reasons.map((reason) => <div key={reason}>{reason}</div>) : "nothing"}
              </td>
            ))}
          </tr>
        </tbody>
      </Table>
    </div>
  );
}

function table({ brief, candidates }: Standing): string {
  return csv(
    ["Requirement", "Asked", ...candidates.map((one) => `${one.material} on ${one.printer}, ${one.set_code}`)],
    [
      ...brief.requirements.map((demand, index) => [
        demand.name,
        `${demand.kind} ${demand.asked}`,
        ...candidates.map(({ judged }) => `${judged[index]?.status}: ${judged[index]?.words}`),
      ]),
      ["Verdict", "", ...candidates.map((one) => one.verdict)],
    ],
  );
}
