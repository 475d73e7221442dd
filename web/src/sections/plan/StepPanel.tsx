import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { clockTime, duration, millilitres, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { KINDS, shortName, type Step } from "./model";

const CAUTIONS: Partial<Record<Step["kind"], string>> = {
  print: "Gloves and eye protection. Search the vat for cured pieces first. A heated print is never left alone.",
  wash: "Gloves, eye protection, ventilation; solvent away from heat and sparks.",
  cure: "Never look into the lamp. What is cured must be dry: solvent in a hollow bursts it.",
  warm: "Somebody stays while a heater runs.",
};

/** A step: when, how long, of whom; begun, done, or opened where it is recorded. */
export function StepPanel({
  step,
  head,
  day,
  onChanged,
  onLetGo,
  onEdit,
}: {
  step: Step;
  head: string;
  /** Named where it is not today. */
  day: string | null;
  onChanged: () => void;
  onLetGo: () => void;
  onEdit: () => void;
}) {
  const say = useSay();
  const withdraw = useSend(
    (id: string) => body(POST("/api/plan/ticks/{tick_id}/withdraw", { params: { path: { tick_id: id } } })),
    onChanged,
  );
  const tick = useSend(
    (done: boolean, headers) => body(POST("/api/plan/ticks", { body: { task: step.key, done }, headers })),
    (ticked, done) => {
      // A stir stands in the ledger of its vat: that is where it is withdrawn.
      say(
        `${step.name}: ${done ? "done" : "begun"}.`,
        step.kind === "vat" ? undefined : () => withdraw.mutate(ticked.id),
      );
      onChanged();
    },
  );
  const kind = KINDS[step.kind];
  const running = step.state === "running";
  // A print is ticked as begun, and done by its record.
  const recorded = step.recorded && (running || !kind.begins);
  const facts = [
    `${day ? `${day}, ` : ""}${clockTime(step.starts_at)} to ${clockTime(step.ends_at)}, ${duration(step.minutes * 60)}`,
    step.person_min > 0 && `${step.person_min}${THIN}min of you`,
    step.ml > 0 && millilitres(step.ml),
    step.attended && "somebody is there all the while",
    step.night && "it runs over night",
  ].filter(Boolean);
  return (
    <section aria-label={head}>
      <h2>{head}</h2>
      <p className="next-step">
        <span className="text-secondary d-block fs-6">{kind.name}</span>
        {shortName(step)}
      </p>
      <p className="mb-2">{facts.join(" · ")}</p>
      {step.change_at && !running && (
        <p className="mb-2">
          First, at {clockTime(step.change_at)}: change its vat to {step.resin}.{" "}
          {step.resource && <Link to={`/printers/${step.resource}/guides/change-resin`}>Step by step</Link>}
        </p>
      )}
      {step.note && <p className="mb-2">{step.note}</p>}
      {step.state === "overdue" && <p className="caution mb-2">It was planned for earlier and is not begun.</p>}
      <div className="d-grid gap-2">
        {recorded && step.link ? (
          [{ job: step.job, link: step.link }, ...step.also].map(({ job, link }) => (
            <Link key={job} className="btn btn-primary btn-lg" to={link ?? "/plan"}>
              {{ read: "Read", blend: "Open the batch" }[step.kind as string] ?? "Mark as printed"}
              {step.also.length > 0 && `: ${job}`}
            </Link>
          ))
        ) : running || !kind.begins ? (
          <Button size="lg" disabled={tick.isPending} onClick={() => tick.mutate(true)}>
            Done
          </Button>
        ) : (
          <Button size="lg" disabled={tick.isPending} onClick={() => tick.mutate(false)}>
            Begun
          </Button>
        )}
        {!recorded &&
          step.link &&
          [{ job: step.job, link: step.link }, ...step.also].map(({ job, link }) => (
            <Link key={job} className="btn btn-quiet" to={link ?? "/plan"}>
              Open {job}
            </Link>
          ))}
        {step.kind === "own" && (
          <Button variant="quiet" onClick={onEdit}>
            Change or remove…
          </Button>
        )}
        {step.pinned && (
          <Button variant="quiet" onClick={onLetGo}>
            Let go of its time
          </Button>
        )}
      </div>
      <Trouble error={tick.error ?? withdraw.error} className="mt-2" />
      {CAUTIONS[step.kind] && !running && <p className="caution mt-2 mb-0">{CAUTIONS[step.kind]}</p>}
    </section>
  );
}
