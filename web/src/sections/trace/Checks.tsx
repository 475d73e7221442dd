import Button from "react-bootstrap/Button";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { chance, decimal, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Trace } from "./WhyPage";

type Check = Schemas["NextCheck"];
/** Checks shown before the others. */
const FEW = 3;

/** Checks worth making, the best for its minutes first, and those that were made. */
export function Checks({ trace }: { trace: Trace }) {
  const path = { trace_id: trace.id };
  const answer = useSend((given: Schemas["AnswerInput"]) =>
    body(POST("/api/traces/{trace_id}/answers", { params: { path }, body: given })),
  );
  const back = useSend((answer_id: string) =>
    body(POST("/api/traces/{trace_id}/answers/{answer_id}/withdraw", { params: { path: { ...path, answer_id } } })),
  );
  const busy = answer.isPending || back.isPending;
  const next = trace.found ? [] : trace.result.next_checks.slice(0, FEW);
  return (
    <>
      {next.length > 0 && <h2>What settles it</h2>}
      {next.map((one, at) => (
        <article key={one.key} className={at === 0 ? "check best" : "check"} aria-label={one.name}>
          <b>{one.name}</b>
          <p className="small mb-1">{one.how}</p>
          <p className="small text-secondary mb-2">{worth(one, trace)}</p>
          <div className="answers">
            {one.answers.map((ahead) => (
              <Button
                key={ahead.key}
                variant="quiet"
                disabled={busy}
                title={`Then ${ahead.leader.toLowerCase()} leads with ${chance(ahead.leader_probability)}`}
                onClick={() => answer.mutate({ check: one.key as Schemas["AnswerInput"]["check"], answer: ahead.key })}
              >
                {ahead.name}
              </Button>
            ))}
          </div>
        </article>
      ))}
      <Trouble error={answer.error ?? back.error} />
      {trace.answers.length > 0 && (
        <>
          <h2>What was checked</h2>
          <ul className="plain-list checked">
            {trace.answers.map((one) => (
              <li key={one.id} className={one.counts ? "" : "text-secondary"}>
                <span>
                  {one.name}: <b>{one.words}</b>
                  {!one.counts && ", superseded"}
                </span>
                <Button variant="link" size="sm" disabled={busy} onClick={() => back.mutate(one.id)}>
                  Withdraw
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** What a check costs, which causes it tells apart, and what the one that leads would come to. */
function worth(one: Check, trace: Trace): string {
  const cost = `${decimal(one.minutes, 0)}${THIN}min, ${decimal(one.ml, 0)}${THIN}ml`;
  const [first, second] = one.tells;
  const leads = trace.result.causes[0];
  const ends = one.answers.map((ahead) => ahead.first);
  const moves = leads
    ? `: ${leads.name.toLowerCase()} ${chance(leads.probability)} → ${chance(Math.max(...ends))} or ${chance(Math.min(...ends))}`
    : "";
  return `${cost} · tells ${first?.toLowerCase()} from ${second?.toLowerCase()}${moves}`;
}
