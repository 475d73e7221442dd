import Button from "react-bootstrap/Button";
import { clockTime, day } from "../../shared/format";
import { lanesOf, type Plan, type Step } from "./model";

/** The plan as a list by time: for a phone, for paper, and for whoever would rather read than look. */
export function PlanList({ plan, onChoose }: { plan: Plan; onChoose: (key: string) => void }) {
  const names = new Map(lanesOf(plan).map((lane) => [lane.key, lane.name]));
  const days = new Map<string, Step[]>();
  for (const step of plan.steps) {
    const key = new Date(step.starts_at).toDateString();
    days.set(key, [...(days.get(key) ?? []), step]);
  }
  return (
    <section className="panel" aria-label="Steps by time">
      {[...days.entries()].map(([key, steps]) => (
        <div key={key} className="mb-3">
          <h2>{day(new Date(key).toISOString())}</h2>
          <ol className="plan-list">
            {steps.map((step) => (
              <li key={step.key}>
                <span className="num">
                  {clockTime(step.starts_at)}–{clockTime(step.ends_at)}
                </span>
                <span>
                  <Button variant="link" className="p-0 text-start" onClick={() => onChoose(step.key)}>
                    {step.name}
                  </Button>
                  <span className="d-none d-print-inline">☐ {step.name}</span>
                  {step.change_at && (
                    <span className="d-block small text-secondary">
                      vat changed to {step.resin} from {clockTime(step.change_at)}
                    </span>
                  )}
                </span>
                <span className="text-secondary">
                  {names.get(step.resource ?? "bench")}
                  {step.night && ", over night"}
                  {step.state === "running" && ", running"}
                </span>
              </li>
            ))}
          </ol>
        </div>
      ))}
    </section>
  );
}
