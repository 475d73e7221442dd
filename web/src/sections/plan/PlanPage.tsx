import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useSay } from "../../app/toasts";
import { body, POST, PUT } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { clockTime, day as dayWords, duration, millilitres, moment, plural } from "../../shared/format";
import { JobBar } from "../../shared/job/JobBar";
import { useJob } from "../../shared/job/useJob";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { BudgetPanel } from "./BudgetPanel";
import { CalendarDialog } from "./CalendarDialog";
import { DueDialog } from "./DueDialog";
import { HistoryDialog } from "./HistoryDialog";
import { HoursDialog } from "./HoursDialog";
import { isToday, weekday, type Plan, stretchOf } from "./model";
import { OwnTaskDialog } from "./OwnTaskDialog";
import { PlanList } from "./PlanList";
import { PlanTimeline } from "./PlanTimeline";
import { PrinterDownDialog } from "./PrinterDownDialog";
import { WorthDoing } from "./WorthDoing";
import { StepPanel } from "./StepPanel";
import "./plan.scss";

const WHOLE_S = 6;
/** After a tick or a move: the plan that stands is near the best one. */
const AGAIN_S = 1.2;

/** What do I do when, and will it be enough? */
export default function PlanPage() {
  const query = useGet("/api/plan", {}, { refetchInterval: 60_000 });
  return (
    <Loaded query={query} page>
      {(plan) => <PlanOf plan={plan} />}
    </Loaded>
  );
}

type Dialog = "own" | "hours" | "calendar" | "history" | "down" | { due: string } | { own: string };

function PlanOf({ plan }: { plan: Plan }) {
  const say = useSay();
  const [search, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(null);
  const [dialog, setDialog] = useState<Dialog | null>(null);
  const [job, setJob] = useState<string>();
  const { job: making, running, stop } = useJob(job);
  const make = useSend(
    (seconds: number, headers) => body(POST("/api/plan/make", { body: { seconds }, headers })),
    (started) => setJob(started.id),
  );
  const move = useSend(
    ({ task, starts_at }: { task: string; starts_at: string | null }) =>
      body(PUT("/api/plan/pins", { body: { task, starts_at } })),
    (_, { task, starts_at }) => {
      say(starts_at ? "Pinned; the rest is planned around it." : "Planned freely again.", () =>
        move.mutate({ task, starts_at: null }),
      );
      make.mutate(AGAIN_S);
    },
  );
  // What came up since, or is late, pushes the rest on: once for each reason.
  const [triedFor, setTriedFor] = useState("");
  const reason = plan.old.join() + plan.made_at;
  const { mutate: again, isPending } = make;
  const tried = triedFor === reason;
  useEffect(() => {
    if (!plan.old.length || !plan.made_at || running || isPending || tried) return;
    setTriedFor(reason);
    again(AGAIN_S);
  }, [plan.old.length, reason, plan.made_at, running, isPending, tried, again]);
  const week = search.get("show") === "week";
  const list = search.get("show") === "list";
  const from = search.get("day");
  const first = from ? new Date(`${from}T12:00`) : new Date(plan.now);
  const [begins, ends] = stretchOf(plan, first, week ? 7 : 1);
  const show = (what: "day" | "week" | "list") => {
    const next = new URLSearchParams(search);
    if (what === "day") next.delete("show");
    else next.set("show", what);
    setSearch(next, { replace: true });
  };
  const turn = (days: number) => {
    const to = new Date(first.getFullYear(), first.getMonth(), first.getDate() + days, 12);
    const next = new URLSearchParams(search);
    next.set("day", to.toLocaleDateString("sv"));
    setSearch(next, { replace: true });
  };
  usePageKeys([
    { keys: "n", does: "add a task", run: () => setDialog("own") },
    { keys: "w", does: week ? "show the day" : "show the week", run: () => show(week ? "day" : "week") },
    { keys: "g", does: "plan anew", run: () => make.mutate(WHOLE_S) },
  ]);
  const step = plan.steps.find((one) => one.key === chosen) ?? plan.what_now;
  const busy = running || make.isPending;
  return (
    <>
      <PageHead title={first.toLocaleDateString(undefined, { weekday: "long" })} sub={summary(plan)}>
        {plan.made_at && (
          <span role="group" aria-label="What is shown" className="d-inline-flex gap-2">
            {(["day", "week", "list"] as const).map((what) => (
              <Button
                key={what}
                variant={(search.get("show") ?? "day") === what ? "primary" : "quiet"}
                aria-pressed={(search.get("show") ?? "day") === what}
                onClick={() => show(what)}
              >
                {{ day: "Day", week: "Week", list: "List" }[what]}
              </Button>
            ))}
          </span>
        )}
        <Button variant="quiet" onClick={() => setDialog("own")}>
          Add a task
        </Button>
        <Dropdown align="end">
          <Dropdown.Toggle variant="quiet">More</Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item onClick={() => window.print()}>Print the day sheet</Dropdown.Item>
            <Dropdown.Item onClick={() => setDialog("calendar")}>Calendar…</Dropdown.Item>
            <Dropdown.Item onClick={() => setDialog("hours")}>Working hours and places…</Dropdown.Item>
            <Dropdown.Item onClick={() => setDialog("down")}>A printer is down or back…</Dropdown.Item>
            <Dropdown.Item onClick={() => setDialog("history")}>Planned and real times…</Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
        {plan.made_at && (
          <Button disabled={busy} onClick={() => make.mutate(WHOLE_S)}>
            Plan anew
          </Button>
        )}
      </PageHead>
      <Trouble error={make.error ?? move.error} className="mb-2" />
      {making?.state === "failed" && <Trouble error={{ message: making.message }} className="mb-2" />}
      {running && making && (
        // Beside a plan that stands nothing may move under a hand.
        <div className={plan.made_at ? "plan-being-made no-print" : undefined}>
          <JobBar job={making} stop={stop} of="the plan" />
        </div>
      )}
      {plan.old.length > 0 && tried && !busy && (
        <p className="caution no-print">The plan is an old one: {plan.old[0]}.</p>
      )}
      {!plan.made_at ? (
        <NoPlan plan={plan} busy={busy} onMake={() => make.mutate(WHOLE_S)} />
      ) : (
        <div className="plan">
          <div className="d-grid gap-3" style={{ minWidth: 0 }}>
            {!list && (
              <section className="panel no-print" aria-label={week ? "The week" : "The day"}>
                <div className="d-flex align-items-center gap-2 mb-1">
                  <Button variant="quiet" size="sm" aria-label="Earlier" onClick={() => turn(week ? -7 : -1)}>
                    ◀
                  </Button>
                  <Button variant="quiet" size="sm" aria-label="Later" onClick={() => turn(week ? 7 : 1)}>
                    ▶
                  </Button>
                  <span className="text-secondary">{dayWords(first.toISOString())}</span>
                </div>
                <PlanTimeline
                  plan={plan}
                  from={begins}
                  to={ends}
                  chosen={step?.key ?? null}
                  onChoose={setChosen}
                  onMove={(moved, starts) =>
                    move.mutate({ task: moved.key, starts_at: new Date(starts).toISOString() })
                  }
                />
              </section>
            )}
            <div className={list ? undefined : "d-none d-print-block"}>
              <PlanList plan={plan} onChoose={setChosen} />
            </div>
            {plan.not_planned.length > 0 && <LeftOutPanel plan={plan} />}
            <WorthDoing />
          </div>
          <div className="plan-side no-print">
            <aside className="panel" aria-label="Now">
              {step ? (
                <StepPanel
                  key={step.key}
                  onEdit={() => setDialog({ own: step.job })}
                  step={step}
                  head={step.key !== plan.what_now?.key ? "Chosen" : isToday(plan, step) ? "Now" : "Next"}
                  day={isToday(plan, step) ? null : weekday(step.starts_at)}
                  onChanged={() => make.mutate(AGAIN_S)}
                  onLetGo={() => move.mutate({ task: step.key, starts_at: null })}
                />
              ) : (
                <section>
                  <h2>Now</h2>
                  <p>
                    {plan.steps.length ? "Everything that was begun runs; nothing waits for you." : "Nothing waits."}
                  </p>
                </section>
              )}
              {plan.then && step?.key === plan.what_now?.key && (
                <p className="text-secondary mt-2 mb-3">
                  then {clockTime(plan.then.starts_at)} {plan.then.name}
                </p>
              )}
            </aside>
            <aside className="panel after" aria-label="What it takes">
              {plan.budget && <BudgetPanel plan={plan} budget={plan.budget} />}
              <DoneBy plan={plan} onDue={(due) => setDialog({ due })} />
            </aside>
          </div>
        </div>
      )}
      {(dialog === "own" || (typeof dialog === "object" && dialog && "own" in dialog)) && (
        <OwnTaskDialog
          code={dialog === "own" ? null : dialog.own}
          onClose={() => setDialog(null)}
          onChanged={() => plan.made_at && make.mutate(AGAIN_S)}
        />
      )}
      {dialog === "hours" && <HoursDialog onClose={() => setDialog(null)} />}
      {dialog === "calendar" && <CalendarDialog onClose={() => setDialog(null)} />}
      {dialog === "history" && <HistoryDialog onClose={() => setDialog(null)} />}
      {dialog === "down" && <PrinterDownDialog plan={plan} onClose={() => setDialog(null)} />}
      {typeof dialog === "object" && dialog && "due" in dialog && (
        <DueDialog plan={plan} job={dialog.due} onClose={() => setDialog(null)} />
      )}
    </>
  );
}

function summary(plan: Plan): string {
  if (!plan.made_at) return plan.waiting.length ? `${plural(plan.waiting.length, "step")} waiting` : "nothing waits";
  if (!plan.steps.length) return "nothing waits";
  const printers = new Set(plan.steps.filter((step) => step.kind === "print").map((step) => step.resource)).size;
  const night = plan.steps.filter((step) => step.night).length;
  return [
    plural(plan.steps.length, "step"),
    printers > 0 && plural(printers, "printer"),
    plan.compared && `ends ${ending(plan.compared.finish_at, plan.now)}`,
    night > 0 && `${plural(night, "print")} over night`,
  ]
    .filter(Boolean)
    .join(" · ");
}

const ending = (iso: string, now: string) =>
  new Date(iso).toDateString() === new Date(now).toDateString() ? clockTime(iso) : moment(iso);

/** Before the first plan: what waits, and the one action. */
function NoPlan({ plan, busy, onMake }: { plan: Plan; busy: boolean; onMake: () => void }) {
  if (!plan.waiting.length)
    return (
      <EmptyState purpose="Nothing waits. What open calibrations, tests, checks and vats need next is planned here, with the minutes of every printer, bath and person.">
        <Link className="btn btn-primary" to="/calibrate/new">
          Start a calibration
        </Link>
      </EmptyState>
    );
  return (
    <EmptyState
      purpose={`${plural(plan.waiting.length, "step")} of open work wait. The plan says what to do when, on which printer and bath, around your hours, and whether resin and time are enough.`}
    >
      <Button disabled={busy} onClick={onMake}>
        Plan the day
      </Button>
    </EmptyState>
  );
}

/** What does not fit, with what is in its way. */
function LeftOutPanel({ plan }: { plan: Plan }) {
  return (
    <section className="panel" aria-label="What does not fit">
      <h2>What does not fit</h2>
      <ul className="plain-list">
        {plan.not_planned.map((row) => (
          <li key={row.key}>
            <b>{row.name}</b>: {row.why}. <span className="text-secondary">Instead: {row.instead}.</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** When each job is through, against when it is needed; and how good the plan is. */
function DoneBy({ plan, onDue }: { plan: Plan; onDue: (job: string) => void }) {
  const { compared } = plan;
  if (!compared || !plan.jobs.length) return null;
  return (
    <section aria-label="Done by">
      <h2>Done by</h2>
      <ul className="plain-list">
        {plan.jobs.map((row) => (
          <li key={row.job} className="d-flex gap-2 align-items-baseline">
            <span className="flex-grow-1">
              {row.job} <span className="num">{ending(row.done_at, plan.now)}</span>
              {row.due_at && (
                <span className={row.late_min ? "late-words" : "text-secondary"}>
                  , needed {ending(row.due_at, plan.now)}
                  {row.late_min > 0 && `: ${duration(row.late_min * 60)} late`}
                </span>
              )}
              <span className="d-block small text-secondary">
                needs{" "}
                {[
                  row.ml > 0 && millilitres(row.ml),
                  duration(row.minutes * 60),
                  `${duration(row.person_min * 60)} of you`,
                ]
                  .filter(Boolean)
                  .join(", ")}
              </span>
            </span>
            <Button
              variant="link"
              size="sm"
              className="p-0"
              aria-label={`When ${row.job} is needed`}
              onClick={() => onDue(row.job)}
            >
              {row.due_at ? "Change" : "Needed by…"}
            </Button>
          </li>
        ))}
      </ul>
      <p className="small text-secondary mb-0">
        {compared.status === "best possible"
          ? "No plan ends earlier. "
          : `At most ${duration(compared.gap_min * 60)} from the best. `}
        By due date alone it would end {ending(compared.by_due_date_finish_at, plan.now)}. You begin to work{" "}
        {plural(compared.interruptions, "time")}
        {compared.changes > 0 && `, and change ${plural(compared.changes, "vat")}`}. Made{" "}
        {clockTime(plan.made_at ?? plan.now)}.
      </p>
    </section>
  );
}
