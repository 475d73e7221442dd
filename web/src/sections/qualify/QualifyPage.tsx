import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { plural } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { StateMark } from "../../shared/StateMark";
import { QualifyTabs } from "./QualifyTabs";
import "./qualify.scss";
import { useGet } from "../../shared/api/useGet";

const VERDICTS = ["qualified", "conditional", "not qualified", "lapsed"];

/** May we rely on it? Every brief, and how the shop's sets stand to it. */
export default function QualifyPage() {
  const briefs = useGet("/api/qualify", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Qualify" sub={briefs.data && plural(briefs.data.length, "brief")}>
        <Link className="btn btn-primary d-inline-flex align-items-center" to="/test/briefs?new=1">
          Write a brief
        </Link>
      </PageHead>
      <QualifyTabs />
      <Loaded query={briefs}>
        {(held) =>
          held.length ? (
            <div className="brief-cards">
              {held.map((one) => (
                <BriefCard key={one.id} brief={one} />
              ))}
            </div>
          ) : (
            <EmptyState purpose="A brief says what an application requires, property by property. Every issued set is judged against it, with its evidence beside each line, and what is missing is named with the cheapest way to get it.">
              <Link className="btn btn-primary" to="/test/briefs?new=1">
                Write a brief
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function BriefCard({ brief }: { brief: Schemas["BriefLine"] }) {
  return (
    <section className="panel" aria-label={brief.name}>
      <div className="d-flex gap-2 align-items-baseline">
        <h2 className="me-auto mb-1">
          <Link to={`/qualify/${brief.code}`}>{brief.name}</Link>
        </h2>
        <span className="small text-secondary num">{brief.code}</span>
      </div>
      <p className="text-secondary mb-2">{brief.use}</p>
      <ul className="plain-list mb-0" aria-label="Sets by verdict">
        {VERDICTS.map((one) => [one, brief.counts[one] ?? 0] as const)
          .filter(([, count]) => count > 0)
          .map(([one, count]) => (
            <li key={one} className="d-flex gap-2 align-items-center py-1">
              <StateMark name={one} /> <span className="text-secondary">{plural(count, "set")}</span>
            </li>
          ))}
        {!Object.keys(brief.counts).length && <li className="text-secondary">No set is issued yet.</li>}
      </ul>
      {brief.best && <p className="small mb-0 mt-2">Cheapest that qualifies: {brief.best}</p>}
    </section>
  );
}
