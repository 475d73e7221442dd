import { Link, useParams } from "react-router";
import Button from "react-bootstrap/Button";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { moment, THIN, temperatures } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { QualifyTabs } from "./QualifyTabs";
import { Requirements } from "./Requirements";
import { Overall } from "./VerdictPage";
import "./qualify.scss";
import { useGet } from "../../shared/api/useGet";

/** A signed qualification as it was signed, and how it stands now; its certificate as PDF, JSON, or this page printed. */
export default function RecordPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/qualifications/{id_or_code}", { params: { path: { id_or_code: code } } });
  const file = (format: string) => `/api/qualifications/${code}/file?format=${format}`;
  return (
    <>
      <PageHead
        title={query.data ? `${query.data.candidate.material} for ${query.data.brief.name}` : code}
        sub={<span className="num">{code}</span>}
      >
        <Button variant="quiet" onClick={() => window.print()}>
          Print
        </Button>
        <a className="btn btn-quiet d-inline-flex align-items-center" href={file("json")} download>
          JSON
        </a>
        <a className="btn btn-primary d-inline-flex align-items-center" href={file("pdf")} download>
          Certificate
        </a>
      </PageHead>
      <QualifyTabs here="/qualify/records" />
      <Loaded query={query}>{(held) => <Record held={held} />}</Loaded>
    </>
  );
}

function Record({ held }: { held: Schemas["SignedView"] }) {
  const card = held.card;
  return (
    <div className="verdict">
      <section className="panel" aria-label="Requirements and evidence">
        {held.brief.use && <p className="text-secondary">{held.brief.use}</p>}
        <Requirements signed brief={held.brief} candidate={held.candidate} />
      </section>
      <aside>
        <Overall candidate={held.candidate} verdict={held.state} why={held.why} />
        <section className="panel" aria-label="Signature">
          <h2>Signed as {held.verdict}</h2>
          {held.scope && <p>{held.scope}</p>}
          <dl className="facts">
            <dt>By</dt>
            <dd>
              {held.initials}, {moment(held.signed_at)}
            </dd>
            <dt>Set</dt>
            <dd>
              <Link to={`/sets/${card.code}`}>{card.code}</Link>, {card.exposure_s}
              {THIN}s
            </dd>
            <dt>Brief</dt>
            <dd>
              <Link to={`/qualify/${held.brief.code}`}>{held.brief.code}</Link>, version {held.brief.version}
            </dd>
            {card.temp_low_c !== null && (
              <>
                <dt>Temperature</dt>
                <dd>{temperatures(card.temp_low_c, card.temp_high_c ?? card.temp_low_c)}</dd>
              </>
            )}
            {card.bottle && (
              <>
                <dt>Bottle</dt>
                <dd>{card.bottle}</dd>
              </>
            )}
          </dl>
          <p className="small text-secondary mb-0 seal num">SHA-256 {held.hash}</p>
        </section>
      </aside>
    </div>
  );
}
