import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { RequirementPlot } from "../../shared/plot/RequirementPlot";
import { StateMark } from "../../shared/StateMark";

type Candidate = Schemas["Candidate"];
type Judged = Schemas["Judged"];

/** Each requirement with its verdict in words, its evidence drawn beside it, and what would show what is not shown. */
export function Requirements({
  brief,
  candidate,
  signed,
}: {
  brief: Schemas["BriefView"];
  candidate: Candidate;
  signed?: boolean;
}) {
  return (
    <ol className="requirements" aria-label="Requirements">
      {candidate.judged.map((one, index) => (
        <li key={`${one.demand.property} ${index}`} aria-label={one.name}>
          <div>
            <h3>{one.name}</h3>
            <p className="text-secondary mb-1">
              {one.demand.kind} be {brief.requirements[index]?.asked}
              {one.demand.note && ` (${one.demand.note})`}
            </p>
            <p className="mb-1">
              <StateMark name={one.status} /> {one.words}
              {one.sure && <small className="text-secondary"> {one.sure}</small>}
            </p>
            {one.used && !one.used.exact && (
              <p className="small mb-1">
                <Source code={one.used.source} candidate={candidate} />
                {one.used.made_under && `: ${one.used.made_under}`}
              </p>
            )}
            {one.left_out.length > 0 && (
              <p className="small text-secondary mb-1">
                Not counted:{" "}
                {one.left_out.map((held, place) => (
                  <span key={place}>
                    {place > 0 && "; "}
                    <Source code={held.source} candidate={candidate} /> {held.why}
                  </span>
                ))}
                .
              </p>
            )}
            {one.need && !signed && <Need need={one.need} one={one} brief={brief} candidate={candidate} />}
          </div>
          <RequirementPlot judged={one} />
        </li>
      ))}
    </ol>
  );
}

function Source({ code, candidate }: { code: string; candidate: Candidate }) {
  return <Link to={code === candidate.set_code ? `/sets/${code}` : `/test/${code}`}>{code}</Link>;
}

type NeedProps = {
  need: NonNullable<Judged["need"]>;
  one: Judged;
  brief: Schemas["BriefView"];
  candidate: Candidate;
};

/** What would show that a requirement is met, and the way there. */
function Need({ need, one, brief, candidate }: NeedProps) {
  const method = one.demand.property.split(".")[0];
  const test = `/test/new?method=${method}&brief=${brief.id}&material=${candidate.material_id}&set=${candidate.set_code}${need.specimens ? `&each=${need.specimens}` : ""}${one.demand.conditions.map((held) => `&setup.${held.key}=${encodeURIComponent(String(held.value))}`).join("")}`;
  const place = need.stage
    ? `/sets/${candidate.set_code}`
    : one.demand.property.startsWith("set.")
      ? `/materials/${candidate.material_id}`
      : test;
  const action = need.stage ? "Open the set" : one.demand.property.startsWith("set.") ? "Open the material" : "Plan it";
  return (
    <p className="mb-0">
      {need.words}{" "}
      {(need.stage || need.specimens || one.demand.property.startsWith("set.")) && (
        <Link className="text-decoration-underline no-print" to={place}>
          {action}
        </Link>
      )}
    </p>
  );
}
