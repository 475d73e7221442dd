import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { decimal, duration, plural, THIN } from "../../shared/format";
import type { Plan } from "./model";

type Budget = Schemas["Budget"];

/** Will it be enough? Resin, baths, hours of the printers and of a person, gloves, money. */
export function BudgetPanel({ plan, budget }: { plan: Plan; budget: Budget }) {
  return (
    <section aria-label="Will it be enough?">
      <h2>Will it be enough?</h2>
      <dl className="budget">
        {budget.resins.map((row) => {
          const out = plan.steps.find((step) => step.key === row.runs_out_at_key);
          return (
            <div key={row.material_id} className={out ? "short" : undefined}>
              <dt>
                <Link to={`/materials/${row.material_id}`}>{row.material}</Link>
                {row.bottles[0] && `, ${row.bottles[0]}`}
              </dt>
              <dd className="num">
                {Math.round(row.left_ml)} → {Math.round(row.left_ml - row.needs_ml)}
                {THIN}ml
              </dd>
              {out && <dd className="why">runs out with {out.name}: get another bottle</dd>}
              {!out && row.open_next && <dd className="why">then open {row.open_next}</dd>}
            </div>
          );
        })}
        {budget.baths.map((row) => (
          <div key={row.name} className={row.loads + row.planned > row.most_loads ? "short" : undefined}>
            <dt>{row.name}</dt>
            <dd className="num">
              {row.loads + row.planned} of {row.most_loads} loads
            </dd>
            {row.loads + row.planned > row.most_loads && (
              <dd className="why">
                <Link to="/shelf/wash-baths">spent on the way: fill it anew</Link>
              </dd>
            )}
          </div>
        ))}
        {budget.printers.map((row) => (
          <div key={row.printer}>
            <dt>{row.printer} runs</dt>
            <dd className="num">{duration(row.minutes * 60)}</dd>
            <dd className="why text-secondary">
              film: {plural(row.film_prints, "print")}, {row.film_prints + row.prints} with these
            </dd>
          </div>
        ))}
        <div>
          <dt>You</dt>
          <dd className="num">
            {duration(budget.person_min * 60)} of {duration(budget.person_there_min * 60)}
          </dd>
        </div>
        {budget.gloves > 0 && (
          <div>
            <dt>Gloves</dt>
            <dd className="num">{plural(budget.gloves, "piece")}</dd>
          </div>
        )}
        {budget.cost !== null && (
          <div>
            <dt>Resin costs</dt>
            <dd className="num">
              {budget.currency}
              {decimal(budget.cost, 2)}
            </dd>
          </div>
        )}
      </dl>
    </section>
  );
}
